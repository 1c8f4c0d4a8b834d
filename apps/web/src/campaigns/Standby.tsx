// Nothing leaves the office until somebody has looked: why, what was going out then, and how each of it goes on.
import { Button, Group, Table } from '@mantine/core';
import type { StandbyReply, StandbyWord } from '@palabra/contract/campaigns';
import { useState } from 'react';
import { Link } from 'react-router';
import { problemOf } from '../app/api';
import { useMay, useOffice } from '../office/OfficeContext';
import { count } from '../ui/numbers';
import { Note } from '../ui/states';
import { dayAndClock } from '../ui/time';
import { useDecideStandbyMutation, useEndStandbyMutation, useStandbyQuery } from './campaigns.api';
import { statusWords } from './words';

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
  const [decide, deciding] = useDecideStandbyMutation();
  const [end, ending] = useEndStandbyMutation();
  const [wrong, setWrong] = useState<string>();
  const fail = (error: unknown): void => setWrong(problemOf(error).detail);
  const say = (id: number, word: StandbyWord): void => {
    setWrong(undefined);
    decide({ id, word }).unwrap().catch(fail);
  };
  const open = campaigns.filter(({ isDecided }) => !isDecided).length;
  return (
    <section>
      <h2 className="ruled-head">Nothing is sent until you have looked</h2>
      <p style={{ marginTop: 8 }}>
        {reasons[reason]} ({dayAndClock(office.timeZone, since)}). It knows what happened until{' '}
        <b>{dayAndClock(office.timeZone, asOf)}</b>; what went out after that is not in it. So that
        nobody gets a letter twice, say of each of these how it goes on.
      </p>
      {campaigns.length > 0 && (
        <Table aria-label="Campaigns that were going out or planned" verticalSpacing={6} ml={-10}>
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
            {campaigns.map(({ id, name, status, sendAt, done, open: rest, isDecided }) => {
              const hasBegun = status === 'sending' || status === 'paused';
              return (
                <Table.Tr key={id}>
                  <Table.Td>
                    <Link to={`/campaigns/${id}`}>{name}</Link>
                  </Table.Td>
                  <Table.Td>
                    {status === 'scheduled' && sendAt
                      ? `planned for ${dayAndClock(office.timeZone, sendAt)}`
                      : statusWords[status]}
                  </Table.Td>
                  <Table.Td ta="right" className="figure">
                    {hasBegun ? count(done) : '–'}
                  </Table.Td>
                  <Table.Td ta="right" className={hasBegun ? 'figure' : undefined}>
                    {hasBegun ? count(rest) : 'everybody'}
                  </Table.Td>
                  <Table.Td>
                    {isDecided ? (
                      'decided'
                    ) : may ? (
                      <Group gap={6}>
                        <Button
                          size="compact-sm"
                          variant="default"
                          disabled={deciding.isLoading}
                          onClick={() => say(id, 'go-on')}
                        >
                          Go on
                        </Button>
                        {hasBegun && (
                          <Button
                            size="compact-sm"
                            variant="default"
                            disabled={deciding.isLoading}
                            onClick={() => say(id, 'count-as-sent')}
                          >
                            Count as sent
                          </Button>
                        )}
                        <Button
                          size="compact-sm"
                          variant="default"
                          disabled={deciding.isLoading}
                          onClick={() => say(id, 'stop')}
                        >
                          {hasBegun ? 'Stop' : 'Back to draft'}
                        </Button>
                      </Group>
                    ) : (
                      'a coordinator decides'
                    )}
                  </Table.Td>
                </Table.Tr>
              );
            })}
          </Table.Tbody>
        </Table>
      )}
      {mails > 0 && (
        <p className="soft">
          {count(mails)} {mails === 1 ? 'mail' : 'mails'} to readers about their own page{' '}
          {mails === 1 ? 'waits' : 'wait'}, too.
        </p>
      )}
      {wrong && (
        <div role="alert">
          <Note kind="wrong">{wrong}</Note>
        </div>
      )}
      {may && (
        <Button
          mt="md"
          mb="lg"
          disabled={open > 0}
          loading={ending.isLoading}
          onClick={() => void end().unwrap().catch(fail)}
        >
          {open > 0 ? `${count(open)} still to decide` : 'Everything is decided: send again'}
        </Button>
      )}
    </section>
  );
}
