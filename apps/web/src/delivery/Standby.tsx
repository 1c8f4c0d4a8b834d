// Nothing leaves the office until somebody has looked: why, what was going out then, and how each of it goes on.
import { Button, Group, Table } from '@mantine/core';
import type { StandbyReply, StandbyWord } from '@palabra/contract/delivery';
import { Link } from 'react-router';
import { statusWords } from '../campaigns';
import { useMay, useOffice } from '../office';
import { command } from '../ui/command';
import { count } from '../ui/numbers';
import { Part } from '../ui/Page';
import { Note } from '../ui/states';
import { Figure, Soft } from '../ui/text';
import { dayAndClock } from '../ui/time';
import { useDecideStandbyMutation, useEndStandbyMutation, useStandbyQuery } from './delivery.api';

const reasons: Record<StandbyReply['reason'], string> = {
  restored: 'The office was restored from a backup',
  copied: 'The office’s data was copied or moved to another place',
  clock: 'The clock of this machine went back',
};

/** One line, where something is about to be sent. */
export function StandbyNote() {
  const { data } = useStandbyQuery();
  if (!data?.standby) return null;
  return (
    <Note kind="caution">
      Nothing is sent at the moment: {reasons[data.standby.reason].toLowerCase()}.{' '}
      <Link to="/">The desk</Link> says what to decide first.
    </Note>
  );
}

export function StandbyPart() {
  const { data } = useStandbyQuery(undefined, {
    pollingInterval: 15_000,
    skipPollingIfUnfocused: true,
  });
  return data?.standby ? <Standby {...data.standby} /> : null;
}

function Standby({ reason, asOf, since, campaigns, mails }: StandbyReply) {
  const { office } = useOffice();
  const may = useMay('send');
  const [end, ending] = useEndStandbyMutation();
  const open = campaigns.filter(({ isDecided }) => !isDecided).length;
  return (
    <Part title="Nothing is sent until you have looked">
      <p>
        {reasons[reason]} ({dayAndClock(office.timeZone, since)}). It knows what happened until{' '}
        <b>{dayAndClock(office.timeZone, asOf)}</b>; what went out after that is not in it. So that
        nobody gets a letter twice, say of each of these how it goes on.
      </p>
      {campaigns.length > 0 && <Waiting campaigns={campaigns} />}
      {mails > 0 && (
        <p>
          <Soft>
            {count(mails)} {mails === 1 ? 'mail' : 'mails'} of the office itself{' '}
            {mails === 1 ? 'waits' : 'wait'}, too.
          </Soft>
        </p>
      )}
      {may && (
        <Button
          my="md"
          disabled={open > 0}
          loading={ending.isLoading}
          onClick={() => void command({ run: () => end().unwrap() })}
        >
          {open > 0 ? `${count(open)} still to decide` : 'Everything is decided: send again'}
        </Button>
      )}
    </Part>
  );
}

type Waiting = StandbyReply['campaigns'][number];

function Waiting({ campaigns }: { readonly campaigns: readonly Waiting[] }) {
  const { office } = useOffice();
  return (
    <Table aria-label="Campaigns that were going out or planned">
      <Table.Thead>
        <Table.Tr>
          <Table.Th>campaign</Table.Th>
          <Table.Th>then</Table.Th>
          <Table.Th ta="right">known to be out</Table.Th>
          <Table.Th ta="right">may be out since</Table.Th>
          <Table.Th>how it goes on</Table.Th>
        </Table.Tr>
      </Table.Thead>
      <Table.Tbody>
        {campaigns.map((one) => {
          const hasBegun = one.status === 'sending' || one.status === 'paused';
          return (
            <Table.Tr key={one.id}>
              <Table.Td>
                <Link to={`/campaigns/${one.id}`}>{one.name}</Link>
              </Table.Td>
              <Table.Td>
                {one.status === 'scheduled' && one.sendAt
                  ? `planned for ${dayAndClock(office.timeZone, one.sendAt)}`
                  : statusWords[one.status]}
              </Table.Td>
              <Table.Td ta="right">{hasBegun ? <Figure>{count(one.done)}</Figure> : '–'}</Table.Td>
              <Table.Td ta="right">
                {hasBegun ? <Figure>{count(one.open)}</Figure> : 'everybody'}
              </Table.Td>
              <Table.Td>
                <Deciding {...one} hasBegun={hasBegun} />
              </Table.Td>
            </Table.Tr>
          );
        })}
      </Table.Tbody>
    </Table>
  );
}

function Deciding({ id, isDecided, hasBegun }: Waiting & { readonly hasBegun: boolean }) {
  const may = useMay('send');
  const [decide, { isLoading }] = useDecideStandbyMutation();
  if (isDecided) return <>decided</>;
  if (!may) return <>a coordinator decides</>;
  const words: readonly (readonly [StandbyWord, string])[] = [
    ['go-on', 'Go on'],
    ...(hasBegun ? ([['count-as-sent', 'Count as sent']] as const) : []),
    ['stop', hasBegun ? 'Stop' : 'Back to draft'],
  ];
  return (
    <Group gap={6}>
      {words.map(([word, label]) => (
        <Button
          key={word}
          size="compact-sm"
          variant="default"
          disabled={isLoading}
          onClick={() => void command({ run: () => decide({ id, word }).unwrap() })}
        >
          {label}
        </Button>
      ))}
    </Group>
  );
}
