// A view's name, and who else sees it.
import { Button, Group, Modal, MultiSelect, Stack, TextInput } from '@mantine/core';
import type { ViewLine } from '@palabra/contract/segments';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { placeText, useVocabularyQuery } from '../contacts';
import { useOffice } from '../office';
import { useAddViewMutation, useChangeViewMutation, useFilterRule } from '../segments';
import { command } from '../ui/command';
import { Words } from '../ui/Words';
import type { ContactsPlace } from './contactsPlace';

type Shared = 'nobody else' | 'some colleagues' | 'everybody';

export function ViewDialog({
  model,
  view,
  onClose,
}: {
  readonly model: ContactsPlace;
  /** Undefined where a new one is made. */
  readonly view: ViewLine | undefined;
  readonly onClose: () => void;
}) {
  const { user } = useOffice();
  const owners = useVocabularyQuery().data?.owners ?? [];
  const [name, setName] = useState(view?.name ?? '');
  const [shared, setShared] = useState<Shared>(
    view?.sharedWithAll
      ? 'everybody'
      : (view?.sharedWith.length ?? 0) > 0
        ? 'some colleagues'
        : 'nobody else',
  );
  const [with_, setWith] = useState<string[]>(view?.sharedWith.map(String) ?? []);
  const rule = useFilterRule(view ? (view.filter ?? undefined) : model.place.filter);
  const [add, adding] = useAddViewMutation();
  const [change, changing] = useChangeViewMutation();
  const navigate = useNavigate();
  const keep = async (): Promise<void> => {
    const said = {
      name,
      sharedWithAll: shared === 'everybody',
      sharedWith: shared === 'some colleagues' ? with_.map(Number) : [],
      arrangement: view?.arrangement ?? model.asKept(),
      ...(rule ? { rule } : {}),
    };
    const done = await command({
      run: async () =>
        view
          ? {
              id: view.id,
              ...(await change({ id: view.id, version: view.version, ...said }).unwrap()),
            }
          : add(said).unwrap(),
    });
    if (!done) return;
    onClose();
    if (!view)
      void navigate(
        `/contacts${placeText({ ...model.place, view: done.id, sort: model.place.sort ?? 'name' })}`,
      );
  };
  return (
    <Modal opened title={view ? 'This view' : 'A new view of what you see'} onClose={onClose}>
      <Stack gap="sm">
        <TextInput
          label="Name"
          data-autofocus
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <Words
          label="Who sees it"
          value={shared}
          options={['nobody else', 'some colleagues', 'everybody']}
          onChange={setShared}
        />
        {shared === 'some colleagues' && (
          <MultiSelect
            label="Which colleagues"
            searchable
            data={owners
              .filter(({ key }) => key !== String(user.id))
              .map(({ key, label }) => ({ value: key, label }))}
            value={with_}
            onChange={setWith}
          />
        )}
        <Group>
          <Button
            disabled={name.trim() === ''}
            loading={adding.isLoading || changing.isLoading}
            onClick={() => void keep()}
          >
            Keep it
          </Button>
        </Group>
      </Stack>
    </Modal>
  );
}
