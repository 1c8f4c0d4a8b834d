// Work that failed several times: what it is, why it stands still, and how it goes on.
import { Button, Group } from '@mantine/core';
import type { StandstillReply } from '@palabra/contract/office';
import { command } from '../ui/command';
import { count } from '../ui/numbers';
import { Note } from '../ui/states';
import { sentence } from '../ui/text';
import { clock } from '../ui/time';
import { useDecideStandstillMutation } from './office.api';
import { useMay, useOffice } from './OfficeContext';

export function Standstill({ work, thing, what, reason, failures, nextAt }: StandstillReply) {
  const { office } = useOffice();
  const may = useMay('send');
  const [decide, { isLoading }] = useDecideStandstillMutation();
  const go = (how: 'again' | 'leave'): void =>
    void command({ run: () => decide({ work, thing, how }).unwrap() });
  return (
    <Note kind="wrong">
      <b>{nextAt ? `Failed ${count(failures)} times:` : 'Stands still:'}</b> {what}.{' '}
      {sentence(reason)}
      {!reason.endsWith('.') && '.'}
      {nextAt && ` It is tried again at ${clock(office.timeZone, nextAt)}.`}
      {may && (
        <Group gap="xs" mt={6}>
          <Button
            size="compact-sm"
            variant="default"
            loading={isLoading}
            onClick={() => go('again')}
          >
            {nextAt ? 'Try again now' : 'Try again'}
          </Button>
          <Button
            size="compact-sm"
            variant="subtle"
            color="gray"
            disabled={isLoading}
            onClick={() => go('leave')}
          >
            Leave it as it is
          </Button>
        </Group>
      )}
    </Note>
  );
}
