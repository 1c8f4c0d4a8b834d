// What uses a segment: campaigns, and other segments that ask for it.
import { Link } from 'react-router';
import { useOffice } from '../office';
import { MarginPart } from '../ui/Page';
import { Small, Soft } from '../ui/text';
import { ago } from '../ui/time';
import { useSegmentsQuery } from './segments.api';
import classes from './segments.module.css';

const SHOWN = 6;

export function UsedIn({ id }: { readonly id: number }) {
  const { office } = useOffice();
  const { data } = useSegmentsQuery();
  const segment = data?.find((one) => one.id === id);
  if (!segment) return null;
  const { uses, askedBy, lastUsedAt } = segment;
  return (
    <MarginPart title="Used in">
      {uses.length === 0 && askedBy.length === 0 && <Soft>Nothing yet.</Soft>}
      <ul className={classes.of}>
        {uses.slice(0, SHOWN).map((use) => (
          <li key={use.id}>
            <Link to={`/campaigns/${use.id}`}>{use.name}</Link>
            {use.waits && <Soft> · waits to go out</Soft>}
          </li>
        ))}
        {uses.length > SHOWN && <Soft>and {uses.length - SHOWN} more campaigns</Soft>}
        {askedBy.map((use) => (
          <li key={`s${use.id}`}>
            <Soft>segment </Soft>
            <Link to={`/segments/${use.id}`}>{use.name}</Link>
          </li>
        ))}
      </ul>
      {lastUsedAt && <Small>last letter to it {ago(office.timeZone, lastUsedAt)}</Small>}
    </MarginPart>
  );
}
