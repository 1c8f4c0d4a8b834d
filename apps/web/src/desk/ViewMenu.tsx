// The name of a list of contacts is its view, and opens the others, with how many each shows.
import { Menu, Title, UnstyledButton } from '@mantine/core';
import type { ViewLine } from '@palabra/contract/segments';
import { IconCheck, IconChevronDown } from '@tabler/icons-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { filterOf, placeText, useSummaryQuery, useVocabularyQuery } from '../contacts';
import { useSeesEverybody } from '../office';
import { useRemoveViewMutation, useRestoreViewMutation, useStartWithMutation } from '../segments';
import { command } from '../ui/command';
import { count } from '../ui/numbers';
import { Small } from '../ui/text';
import { placeOfView, type ContactsPlace } from './contactsPlace';
import classes from './desk.module.css';
import { ViewDialog } from './ViewDialog';

export function ViewMenu({ model }: { readonly model: ContactsPlace }) {
  const [isOpen, setOpen] = useState(false);
  const [dialog, setDialog] = useState<'new' | 'change'>();
  const { place, view, views } = model;
  const pools = useVocabularyQuery().data?.pools ?? [];
  const whose = useSeesEverybody() ? 'Everybody' : 'Your people';
  const pool = pools.find(({ id }) => id === place.pool);
  const name = view?.name ?? (pool && pool.kind !== 'house' ? pool.name : whose);
  const navigate = useNavigate();
  const go = (to: string): void => void navigate(`/contacts${to}`);
  return (
    <>
      <Menu position="bottom-start" width={320} opened={isOpen} onChange={setOpen}>
        <Menu.Target>
          <UnstyledButton>
            <Title order={1} className={classes.heading}>
              {name} <IconChevronDown size={18} aria-hidden />
            </Title>
          </UnstyledButton>
        </Menu.Target>
        <Menu.Dropdown className={classes.menu}>
          {views.length > 0 && <Menu.Label>Views</Menu.Label>}
          {views.map((one) => (
            <Menu.Item
              key={one.id}
              leftSection={one.id === view?.id ? <IconCheck size={14} /> : <span />}
              rightSection={isOpen && <ViewCount view={one} />}
              onClick={() => go(placeText(placeOfView(one)))}
            >
              {one.name}{' '}
              <Small>
                {one.isMine
                  ? one.sharedWithAll || one.sharedWith.length > 0
                    ? 'shared'
                    : ''
                  : `of ${one.owner}`}
                {one.isStart ? ' · begins' : ''}
              </Small>
            </Menu.Item>
          ))}
          <Menu.Label>Pools</Menu.Label>
          {pools.map((one) => (
            <Menu.Item
              key={one.id}
              leftSection={!view && pool?.id === one.id ? <IconCheck size={14} /> : <span />}
              onClick={() => go(`?pool=${one.id}`)}
            >
              {one.kind === 'house'
                ? `${whose}, the house pool`
                : `${one.name}, ${one.kind === 'partner' ? 'a partner’s pool' : 'prospects'}`}
            </Menu.Item>
          ))}
          <Menu.Divider />
          <Menu.Item onClick={() => go('/tags')}>Tags</Menu.Item>
          <Menu.Item onClick={() => go('/bin')}>The bin</Menu.Item>
          <Menu.Item onClick={() => setDialog('new')}>Keep what I see as a new view …</Menu.Item>
          {view && (
            <ViewDeeds
              view={view}
              plain={`/contacts?pool=${pools.find(({ kind }) => kind === 'house')?.id ?? ''}`}
              onChange={() => setDialog('change')}
            />
          )}
        </Menu.Dropdown>
      </Menu>
      {dialog && (
        <ViewDialog
          model={model}
          view={dialog === 'change' ? view : undefined}
          onClose={() => setDialog(undefined)}
        />
      )}
    </>
  );
}

/** Asked for only while the menu is open. */
function ViewCount({ view }: { readonly view: ViewLine }) {
  const { data } = useSummaryQuery(filterOf(placeOfView(view)));
  return <Small>{data ? count(data.total) : '…'}</Small>;
}

function ViewDeeds({
  view,
  plain,
  onChange,
}: {
  readonly view: ViewLine;
  /** Where the contacts are without a view. */
  readonly plain: string;
  readonly onChange: () => void;
}) {
  const [start] = useStartWithMutation();
  const [remove] = useRemoveViewMutation();
  const [restore] = useRestoreViewMutation();
  const navigate = useNavigate();
  const del = async (): Promise<void> => {
    const done = await command({
      run: () => remove(view.id).unwrap(),
      says: () => `The view “${view.name}” was deleted.`,
      undo: () => restore(view.id).unwrap(),
    });
    if (done !== undefined) void navigate(plain);
  };
  return (
    <>
      <Menu.Item
        onClick={() => void command({ run: () => start(view.isStart ? null : view.id).unwrap() })}
      >
        {view.isStart ? 'Begin with everybody again' : 'Begin with this view'}
      </Menu.Item>
      {view.isMine && <Menu.Item onClick={onChange}>Name and share this view …</Menu.Item>}
      {view.isMine && <Menu.Item onClick={() => void del()}>Delete this view</Menu.Item>}
    </>
  );
}
