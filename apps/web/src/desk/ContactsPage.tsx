// Contacts: everybody of a pool, the people behind a number, or a view; narrowed by words and by a rule.
import { Button, Title } from '@mantine/core';
import { useState } from 'react';
import { Link, Navigate } from 'react-router';
import { WriteToThem } from '../campaigns';
import {
  ContactsMargin,
  NewContact,
  PeopleList,
  filterOf,
  useSummaryQuery,
  useVocabularyQuery,
} from '../contacts';
import { ForEach } from '../notes';
import { useMay, useSeesEverybody } from '../office';
import { FilterChip, FilterPanel, IntoSegment, useFilterDraft } from '../segments';
import { count, people } from '../ui/numbers';
import { Page } from '../ui/Page';
import { Ghost, Note } from '../ui/states';
import { useContactsPlace, type ContactsPlace } from './contactsPlace';
import { ViewMenu } from './ViewMenu';
import { ViewChanges } from './ViewChanges';

export function ContactsPage() {
  const model = useContactsPlace();
  if (model.to !== undefined) return <Navigate to={model.to} replace />;
  if (model.isWaiting)
    return (
      <Page title="Contacts">
        <Ghost lines={8} />
      </Page>
    );
  return <Contacts model={model} />;
}

function Contacts({ model }: { readonly model: ContactsPlace }) {
  const { place, narrow } = model;
  const [isAdding, setAdding] = useState(false);
  const { currentData: sums } = useSummaryQuery(filterOf(place));
  const house = useVocabularyQuery().data?.pools.find(({ kind }) => kind === 'house')?.id;
  const filter = useFilterDraft(place.filter, (key) => narrow({ filter: key }));
  return (
    <Page
      title={model.view?.name ?? sums?.title ?? 'Contacts'}
      heading={
        place.of ? <Title order={1}>{sums?.title ?? '…'}</Title> : <ViewMenu model={model} />
      }
      sub={
        <>
          {sums && people(sums.total)} {model.view && <ViewChanges model={model} filter={filter} />}
        </>
      }
      actions={
        <Actions isNumber={place.of !== undefined} house={house} onAdd={() => setAdding(true)} />
      }
      margin={<ContactsMargin place={place} onTag={(id) => narrow({ tag: id })} />}
    >
      {model.isViewGone && (
        <Note kind="caution">
          This view was deleted, or is not shared with you any more. These are all contacts.
        </Note>
      )}
      <PeopleList
        place={place}
        total={sums?.total}
        arranged={model.arranged}
        onChange={narrow}
        narrowing={<FilterChip model={filter} />}
        further={(meant, size) => (
          <>
            <WriteToThem people={meant} />
            <IntoSegment people={meant} />
            <ForEach people={meant} size={size} />
          </>
        )}
        below={
          filter.isOpen && <FilterPanel model={filter} place={place} pool={place.pool ?? house} />
        }
      />
      {sums && sums.colleagues > 0 && <p>and {count(sums.colleagues)} of colleagues</p>}
      {sums && sums.deleted > 0 && <p>and {count(sums.deleted)} deleted since</p>}
      <NewContact opened={isAdding} onClose={() => setAdding(false)} />
    </Page>
  );
}

function Actions({
  isNumber,
  house,
  onAdd,
}: {
  readonly isNumber: boolean;
  readonly house: number | undefined;
  readonly onAdd: () => void;
}) {
  const mayChange = useMay('change people');
  const seesAll = useSeesEverybody();
  if (isNumber)
    return (
      <Button component={Link} to={`/contacts?pool=${house ?? ''}`} variant="default">
        {seesAll ? 'Show everybody' : 'Show all of yours'}
      </Button>
    );
  return (
    mayChange && (
      <>
        <Button component={Link} to="/intake" variant="default">
          Import
        </Button>
        <Button onClick={onAdd}>New contact</Button>
      </>
    )
  );
}
