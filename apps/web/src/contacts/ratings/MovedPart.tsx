// Who rose and who is fading, for the desk.
import type { MovedPeople } from '@palabra/contract/contacts';
import { displayName, FADING_WITHIN, RISEN_BY, type PeopleName } from '@palabra/core/contacts';
import { Link } from 'react-router';
import { count, Opens, peoplePath } from '../../ui/numbers';
import { MarginPart } from '../../ui/Page';
import { Ghost } from '../../ui/states';
import { Figure, Soft } from '../../ui/text';
import { useMovedQuery } from '../contacts.api';
import classes from './ratings.module.css';

export function MovedPart() {
  const { data } = useMovedQuery(undefined, { refetchOnMountOrArgChange: 30 });
  return (
    <MarginPart title="Ratings">
      {!data && <Ghost lines={3} />}
      {data?.rose.count === 0 && data.fading.count === 0 && (
        <Soft>Nobody rose or faded lately.</Soft>
      )}
      {data && data.rose.count > 0 && (
        <Moved
          moved={data.rose}
          of={`rated.${FADING_WITHIN}.rose`}
          words={`rose by ${RISEN_BY} or more in ${FADING_WITHIN} days`}
        />
      )}
      {data && data.fading.count > 0 && (
        <Moved
          moved={data.fading}
          of={`rated.${FADING_WITHIN}.fading`}
          words={data.fading.count === 1 ? 'is fading' : 'are fading'}
        />
      )}
    </MarginPart>
  );
}

function Moved({
  moved,
  of,
  words,
}: {
  readonly moved: MovedPeople;
  readonly of: PeopleName;
  readonly words: string;
}) {
  const list = `?of=${encodeURIComponent(of)}`;
  return (
    <>
      <p className={classes.lead}>
        <Opens to={peoplePath(of)}>{count(moved.count)}</Opens> {words}
        {moved.people.length > 0 ? ':' : '.'}
      </p>
      {moved.people.map((one) => (
        <div key={one.id} className={classes.moved}>
          <Link className={classes.who} to={`/contacts/${one.id}${list}`}>
            {displayName({ given: one.givenName, family: one.familyName }, one.address)}
          </Link>
          <Figure c="dimmed">
            {one.was} → {one.is}
          </Figure>
        </div>
      ))}
    </>
  );
}
