// One person, at an address of its own, in the list it was opened from.
import { ActionIcon } from '@mantine/core';
import { displayName } from '@palabra/core/contacts';
import { IconArrowDown, IconArrowUp } from '@tabler/icons-react';
import { useEffect } from 'react';
import { useDispatch } from 'react-redux';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { problemOf } from '../app/api';
import { Lost } from '../app/Lost';
import { useMay } from '../office/OfficeContext';
import { count } from '../ui/numbers';
import { Page } from '../ui/Page';
import { Ghost, Wrong } from '../ui/states';
import {
  usePersonQuery,
  usePlaceQuery,
  useTaggingMutation,
  useVocabularyQuery,
} from './contacts.api';
import { filterText, readFilter } from './filter';
import { Flag } from './Flag';
import { did } from './justDone';
import { PersonMargin } from './PersonMargin';
import { TagPicker } from './TagPicker';
import { Timeline } from './Timeline';

export function PersonPage() {
  const id = Number(useParams()['id']);
  const [search] = useSearchParams();
  const filter = readFilter(search);
  const list = filterText(filter);
  const navigate = useNavigate();
  const person = usePersonQuery(id, { skip: !Number.isInteger(id) });
  const place = usePlaceQuery({ id, ...filter }, { skip: !Number.isInteger(id) });
  // While the next person's place is on its way, the last one's would lead astray.
  const previous = place.currentData?.previous;
  const next = place.currentData?.next;
  useEffect(() => {
    const keys = (event: KeyboardEvent): void => {
      const to = event.key === 'ArrowUp' ? previous : event.key === 'ArrowDown' ? next : undefined;
      if (!event.altKey || !to) return;
      event.preventDefault();
      void navigate(`/contacts/${to}${list}`);
    };
    window.addEventListener('keydown', keys);
    return () => window.removeEventListener('keydown', keys);
  }, [previous, next, list, navigate]);
  if (person.isError && problemOf(person.error).status === 404) return <Lost />;
  const data = person.data?.id === id ? person.data : undefined;
  const name = data
    ? displayName({ given: data.givenName, family: data.familyName }, data.address)
    : '…';
  const town = data?.fields.find(({ field }) => field.key === 'town')?.value;
  const go = (to: number | null | undefined): void => {
    if (to) void navigate(`/contacts/${to}${list}`);
  };
  return (
    <Page
      title={name}
      sub={data && [data.address ?? 'no address', town].filter(Boolean).join(' · ')}
      actions={
        <>
          <Link to={`/contacts${list}`}>{list ? 'Back to the list' : 'Contacts'}</Link>
          {place.data && place.data.total > 0 && (
            <span className="soft figure small">
              {count(place.data.position)} of {count(place.data.total)}
            </span>
          )}
          <ActionIcon
            variant="subtle"
            color="gray"
            aria-label="Previous person"
            disabled={!previous}
            onClick={() => go(previous)}
          >
            <IconArrowUp size={18} />
          </ActionIcon>
          <ActionIcon
            variant="subtle"
            color="gray"
            aria-label="Next person"
            disabled={!next}
            onClick={() => go(next)}
          >
            <IconArrowDown size={18} />
          </ActionIcon>
        </>
      }
      margin={data ? <PersonMargin key={data.id} person={data} /> : <Ghost lines={6} />}
    >
      {person.isError && <Wrong error={person.error} again={() => void person.refetch()} />}
      {data && <PersonTags id={id} tags={data.tags} />}
      <Timeline key={id} id={id} />
    </Page>
  );
}

function PersonTags({ id, tags }: { readonly id: number; readonly tags: readonly number[] }) {
  const { data } = useVocabularyQuery();
  const [tagging] = useTaggingMutation();
  const dispatch = useDispatch();
  const may = useMay('change people');
  const change = async (tag: number, put: boolean): Promise<void> => {
    try {
      dispatch(
        did({ changeSet: (await tagging({ people: { ids: [id] }, tag, put }).unwrap()).id }),
      );
    } catch (error) {
      dispatch(did({ text: problemOf(error).detail }));
    }
  };
  return (
    <div className="flags wrap" style={{ marginBottom: 16 }}>
      {tags.map((tag) => {
        const known = data?.tags.find((one) => one.id === tag);
        return (
          known && (
            <Flag
              key={tag}
              name={known.name}
              colour={known.colour}
              onTakeOff={may && known.kind === 'office' ? () => void change(tag, false) : undefined}
            />
          )
        );
      })}
      {may && <TagPicker label="+ tag" leaveOut={tags} onPick={(tag) => void change(tag, true)} />}
    </div>
  );
}
