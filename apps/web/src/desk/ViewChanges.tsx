// What was changed in a view shows until it is kept or dropped.
import { isActive } from '@palabra/core/segments';
import { useState } from 'react';
import { useChangeViewMutation, type FilterDraft } from '../segments';
import { command } from '../ui/command';
import { Act } from '../ui/text';
import type { ContactsPlace } from './contactsPlace';
import { ViewDialog } from './ViewDialog';

export function ViewChanges({
  model,
  filter,
}: {
  readonly model: ContactsPlace;
  readonly filter: FilterDraft;
}) {
  const [change, state] = useChangeViewMutation();
  const [isNew, setNew] = useState(false);
  const { view, isChanged } = model;
  if (!view || !isChanged) return null;
  const { rule, context } = filter;
  const keep = async (): Promise<void> => {
    const done = await command({
      run: () =>
        change({
          id: view.id,
          version: view.version,
          name: view.name,
          sharedWithAll: view.sharedWithAll,
          sharedWith: [...view.sharedWith],
          arrangement: model.asKept(),
          ...(isActive(rule.root, context) ? { rule } : {}),
        }).unwrap(),
    });
    if (done) model.settle();
  };
  return (
    <>
      · changed{' '}
      {view.isMine ? (
        <Act loading={state.isLoading} onClick={() => void keep()}>
          keep it so
        </Act>
      ) : (
        <Act onClick={() => setNew(true)}>keep as a view of your own</Act>
      )}{' '}
      <Act onClick={model.drop}>back to how it was</Act>
      {isNew && <ViewDialog model={model} view={undefined} onClose={() => setNew(false)} />}
    </>
  );
}
