// A field taken out: where it is used is said first, and it waits in the bin for thirty days.
import { Button, Group, Modal } from '@mantine/core';
import type { FieldUseKind, FieldUsesReply } from '@palabra/contract/contacts';
import type { Field } from '@palabra/core/contacts';
import { useState } from 'react';
import { command } from '../../ui/command';
import { people } from '../../ui/numbers';
import { MarginPart } from '../../ui/Page';
import { Ghost, Wrong } from '../../ui/states';
import { Act, Soft } from '../../ui/text';
import { Uses } from '../../ui/Uses';
import {
  useFieldUsesQuery,
  useRemoveFieldMutation,
  useRestoreFieldMutation,
} from '../contacts.api';

interface FieldRemovalProps {
  readonly field: Field;
  readonly onGone: () => void;
}

export function FieldRemoval({ field, onGone }: FieldRemovalProps) {
  const [opened, setOpened] = useState(false);
  return (
    <MarginPart title="Take it out">
      <Act onClick={() => setOpened(true)}>Take out {field.label} …</Act>
      <Modal opened={opened} onClose={() => setOpened(false)} title={`Take out ${field.label}`}>
        {opened && <Question field={field} onGone={onGone} onClose={() => setOpened(false)} />}
      </Modal>
    </MarginPart>
  );
}

function Question({
  field,
  onGone,
  onClose,
}: FieldRemovalProps & { readonly onClose: () => void }) {
  const found = useFieldUsesQuery(field.key);
  const [remove, removing] = useRemoveFieldMutation();
  const [restore] = useRestoreFieldMutation();
  const go = async (): Promise<void> => {
    const done = await command({
      run: async () => {
        await remove(field.key).unwrap();
        return true;
      },
      says: () => `“${field.label}” was taken out.`,
      undo: () => restore(field.key).unwrap(),
    });
    onClose();
    if (done) onGone();
  };
  return (
    <>
      {found.isLoading && <Ghost lines={3} />}
      {found.isError && <Wrong error={found.error} again={() => void found.refetch()} />}
      {found.data && <WhereUsed uses={found.data} />}
      <p>
        <Soft>
          What people have in it is kept for thirty days, and comes back with it: from here, or from
          the activity log.
        </Soft>
      </p>
      <Group>
        <Button loading={removing.isLoading} disabled={!found.data} onClick={() => void go()}>
          Take it out
        </Button>
        <Button variant="subtle" color="gray" onClick={onClose}>
          Not now
        </Button>
      </Group>
    </>
  );
}

const places: { readonly [K in FieldUseKind]: { readonly words: string; readonly path: string } } =
  {
    segment: { words: 'asked for by the segments', path: '/segments' },
    view: { words: 'shown or asked for by the views', path: '/contacts?view=' },
    letter: { words: 'named by the letters', path: '/letters' },
    field: { words: 'counted from by the fields', path: '/settings/fields' },
  };
const kinds = Object.keys(places) as FieldUseKind[];

function WhereUsed({ uses: { filled, uses } }: { readonly uses: FieldUsesReply }) {
  return (
    <>
      <p>
        {filled === 0 ? 'Nobody has anything in it.' : `${people(filled)} have something in it.`}
      </p>
      {uses.length === 0 && <p>It is used nowhere.</p>}
      {kinds.map((kind) => {
        const those = uses.filter((use) => use.kind === kind);
        const { words, path } = places[kind];
        return (
          those.length > 0 && (
            <p key={kind}>
              It is {words}{' '}
              {kind === 'segment' || kind === 'letter' ? (
                <Uses uses={those} path={path} most={8} />
              ) : (
                those.map(({ name }) => name).join(', ')
              )}
              .
            </p>
          )
        );
      })}
      {uses.length > 0 && (
        <Soft>Rules that ask for it can’t be used until that condition is taken out.</Soft>
      )}
    </>
  );
}
