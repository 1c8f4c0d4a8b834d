// The segments that somebody is in; each says why.
import { Link } from 'react-router';
import { MarginPart } from '../ui/Page';
import { Ghost } from '../ui/states';
import { Soft } from '../ui/text';
import { useSegmentsOfQuery } from './segments.api';
import classes from './segments.module.css';

export function SegmentsOf({ person }: { readonly person: number }) {
  const { data } = useSegmentsOfQuery(person, { refetchOnMountOrArgChange: true });
  return (
    <MarginPart title="In these segments">
      {!data && <Ghost lines={2} />}
      {data?.length === 0 && <Soft>In none.</Soft>}
      {data && data.length > 0 && (
        <ul className={classes.of}>
          {data.map(({ id, name }) => (
            <li key={id}>
              <Link to={`/segments/${id}?why=${person}`} aria-label={`${name}: why`}>
                {name}
              </Link>
            </li>
          ))}
        </ul>
      )}
    </MarginPart>
  );
}
