// Whether a person may be mailed: do not mail, permission, letters that came back; and what they got so far.
import type { PersonReply } from '@palabra/contract/contacts';
import { doNotMailWords } from '@palabra/core/contacts';
import { Button, Popover, Text, TextInput } from '@mantine/core';
import { useState } from 'react';
import { useMay, useOffice } from '../office';
import { command } from '../ui/command';
import { count } from '../ui/numbers';
import { MarginPart } from '../ui/Page';
import { Act, Soft, Wrongly } from '../ui/text';
import { day } from '../ui/time';
import { useSetDoNotMailMutation, useTryAgainMutation, useVocabularyQuery } from './contacts.api';
import { PermissionPart } from './PermissionPart';

export function Standing({ person }: { readonly person: PersonReply }) {
  const { counts } = person;
  const may = useMay('change people');
  return (
    <>
      <MarginPart title="May be mailed">
        <DoNotMail person={person} />
        <DroppedTopics ids={person.droppedTopics} />
        <CameBack person={person} />
        <PermissionPart person={person} />
        {!person.doNotMail && person.address && may && <PutOnDoNotMail id={person.id} />}
      </MarginPart>
      <MarginPart title="Letters">
        <Soft>
          {counts.delivered === 0
            ? 'No letter has reached them so far.'
            : `Got ${count(counts.delivered)}, opened ${count(counts.opened)}, clicked in ${count(counts.clicked)}.`}
        </Soft>
      </MarginPart>
    </>
  );
}

function DoNotMail({ person: { id, doNotMail } }: { readonly person: PersonReply }) {
  const { office } = useOffice();
  const may = useMay('change people');
  const [set] = useSetDoNotMailMutation();
  if (!doNotMail) return null;
  return (
    <p>
      <Wrongly fw={700}>On do not mail</Wrongly> since {day(office.timeZone, doNotMail.at)}:{' '}
      {doNotMailWords[doNotMail.reason]}. {doNotMail.note && <Soft>“{doNotMail.note}” </Soft>}
      {may && doNotMail.mayTakeOff && (
        <Act
          onClick={() => void command({ run: () => set({ id, put: false, note: '' }).unwrap() })}
        >
          Take off again
        </Act>
      )}
    </p>
  );
}

function PutOnDoNotMail({ id }: { readonly id: number }) {
  const [opened, setOpened] = useState(false);
  const [note, setNote] = useState('');
  const [set, setting] = useSetDoNotMailMutation();
  const put = async (): Promise<void> => {
    const done = await command({
      run: () =>
        set({ id, put: true, note })
          .unwrap()
          .then(() => true),
      says: () => 'On do not mail from now on.',
      undo: () => set({ id, put: false, note: '' }).unwrap(),
    });
    if (done) setOpened(false);
  };
  return (
    <Popover opened={opened} onChange={setOpened} trapFocus position="bottom-end" width={280}>
      <Popover.Target>
        <Act onClick={() => setOpened(!opened)}>Put on do not mail</Act>
      </Popover.Target>
      <Popover.Dropdown>
        <form
          onSubmit={(event) => {
            event.preventDefault();
            void put();
          }}
        >
          <TextInput
            label="Why, if there is more to say"
            placeholder="asked on the phone"
            data-autofocus
            maxLength={300}
            value={note}
            onChange={(event) => setNote(event.currentTarget.value)}
          />
          <Button mt="xs" size="xs" type="submit" loading={setting.isLoading}>
            Put on do not mail
          </Button>
        </form>
      </Popover.Dropdown>
    </Popover>
  );
}

function DroppedTopics({ ids }: { readonly ids: readonly number[] }) {
  const { data } = useVocabularyQuery();
  if (ids.length === 0) return null;
  const names = ids.map((id) => data?.topics.find((topic) => topic.id === id)?.name ?? '…');
  return <Text c="dimmed">Chose not to get: {names.join(', ')}.</Text>;
}

function CameBack({ person }: { readonly person: PersonReply }) {
  const { office } = useOffice();
  const may = useMay('change people');
  const [tryAgain] = useTryAgainMutation();
  return (
    <>
      <InARow times={person.softBounces} limit={office.softBounceLimit} what="came back for now" />
      <InARow
        times={person.unreadBounces}
        limit={office.unreadBounceLimit}
        what={`${person.unreadBounces === 1 ? 'was' : 'were'} refused, for a reason nobody could read`}
      />
      {may && person.softBounces + person.unreadBounces > 0 && (
        <Act onClick={() => void command({ run: () => tryAgain(person.id).unwrap() })}>
          Try again
        </Act>
      )}
    </>
  );
}

function InARow({
  times,
  limit,
  what,
}: {
  readonly times: number;
  readonly limit: number;
  readonly what: string;
}) {
  if (times === 0) return null;
  const isHeld = limit > 0 && times >= limit;
  return (
    <Text c={isHeld ? 'var(--caution)' : 'dimmed'}>
      {times === 1 ? 'The last letter' : `The last ${count(times)} letters`} {what}
      {isHeld ? '; held back until you try again.' : '.'}
    </Text>
  );
}
