// One person, at an address of its own, in the list it was opened from.
import { ActionIcon, Badge } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import type { PersonReply } from '@palabra/contract/contacts';
import { displayName } from '@palabra/core/contacts';
import { IconArrowDown, IconArrowUp } from '@tabler/icons-react';
import type { ReactNode } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { isGone } from '../api/problems';
import { count } from '../ui/numbers';
import { Page } from '../ui/Page';
import { Lost, Waiting } from '../ui/states';
import { Figure } from '../ui/text';
import { Erased } from './erasing/Erased';
import { TheirData } from './erasing/TheirData';
import { usePersonQuery, usePlaceQuery } from './contacts.api';
import { filterOf, placeText, readPlace } from './filter';
import { PersonFacts } from './PersonFacts';
import { PersonTags } from './PersonTags';
import { RatingPart } from './ratings/RatingPart';
import { Standing } from './Standing';
import { Timeline, type Kept } from './Timeline';

/** How soon one sees what somebody else changes here, in milliseconds. */
const FOLLOWED_MS = 4000;

interface PersonPageProps {
  /** What stands over the timeline, of whoever keeps notes. */
  readonly over: (id: number) => ReactNode;
  readonly keptEntry: (entry: Kept) => ReactNode;
  /** What stands in the margin, of whoever keeps segments. */
  readonly beside: (id: number) => ReactNode;
}

export function PersonPage(slots: PersonPageProps) {
  const id = Number(useParams()['id']);
  const person = usePersonQuery(id, { skip: !Number.isInteger(id) });
  if (!Number.isInteger(id)) return <Lost />;
  if (person.error !== undefined && isGone(person.error)) return <Erased id={id} />;
  const data = person.data?.id === id ? person.data : undefined;
  if (!data) return <Waiting error={person.error} again={() => void person.refetch()} />;
  return <Person key={id} person={data} {...slots} />;
}

function Person({
  person,
  over,
  keptEntry,
  beside,
}: PersonPageProps & { readonly person: PersonReply }) {
  usePersonQuery(person.id, { pollingInterval: FOLLOWED_MS, skipPollingIfUnfocused: true });
  const name = displayName({ given: person.givenName, family: person.familyName }, person.address);
  const town = person.fields.find(({ field }) => field.key === 'town')?.value;
  return (
    <Page
      title={name}
      sub={
        <>
          {[person.address ?? 'no address', town].filter(Boolean).join(' · ')}{' '}
          {person.doNotMail && (
            <Badge variant="outline" color="red" tt="none" radius={3}>
              do not mail
            </Badge>
          )}
        </>
      }
      actions={<InList id={person.id} />}
      margin={
        <>
          <RatingPart id={person.id} />
          <PersonFacts person={person} />
          <Standing person={person} />
          {beside(person.id)}
          <TheirData id={person.id} name={name} />
        </>
      }
    >
      <PersonTags id={person.id} tags={person.tags} />
      {over(person.id)}
      <Timeline id={person.id} keptEntry={keptEntry} />
    </Page>
  );
}

/** Back to the list, and to its next and previous person. */
function InList({ id }: { readonly id: number }) {
  const [search] = useSearchParams();
  const listPlace = readPlace(search);
  const list = placeText(listPlace);
  const navigate = useNavigate();
  const { currentData: place } = usePlaceQuery({
    id,
    ...filterOf(listPlace),
    sort: listPlace.sort,
  });
  const go = (to: number | null | undefined): void => {
    if (to) void navigate(`/contacts/${to}${list}`);
  };
  useHotkeys([
    ['alt+ArrowUp', () => go(place?.previous)],
    ['alt+ArrowDown', () => go(place?.next)],
    ['u', () => void navigate(`/contacts${list}`)],
  ]);
  return (
    <>
      <Link to={`/contacts${list}`}>{list ? 'Back to the list' : 'Contacts'}</Link>
      {place && place.total > 0 && (
        <Figure c="dimmed" fz="sm">
          {count(place.position)} of {count(place.total)}
        </Figure>
      )}
      <ActionIcon
        aria-label="Previous person"
        disabled={!place?.previous}
        onClick={() => go(place?.previous)}
      >
        <IconArrowUp size={18} />
      </ActionIcon>
      <ActionIcon aria-label="Next person" disabled={!place?.next} onClick={() => go(place?.next)}>
        <IconArrowDown size={18} />
      </ActionIcon>
    </>
  );
}
