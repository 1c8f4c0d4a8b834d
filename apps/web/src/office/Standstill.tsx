// Work that failed in the same way a few times: what it was, why it stands still, and how it goes on.
import { Button, Group } from '@mantine/core';
import type { StandstillReply } from '@palabra/contract/office';
import { useState } from 'react';
import { problemOf } from '../app/api';
import { Note } from '../ui/states';
import { useDecideStandstillMutation } from './office.api';
import { useMay } from './OfficeContext';

export function Standstill({ work, thing, what, reason }: StandstillReply) {
  const may = useMay('send');
  const [decide, { isLoading }] = useDecideStandstillMutation();
  const [wrong, setWrong] = useState<string>();
  const go = (how: 'again' | 'leave'): void => {
    setWrong(undefined);
    decide({ work, thing, how })
      .unwrap()
      .catch((error: unknown) => setWrong(problemOf(error).detail));
  };
  return (
    <div role="status">
      <Note kind="wrong">
        <b>Stands still:</b> {what}. {reason.charAt(0).toUpperCase() + reason.slice(1)}.
        {may && (
          <Group gap="xs" mt={6}>
            <Button
              size="compact-sm"
              variant="default"
              loading={isLoading}
              onClick={() => go('again')}
            >
              Try again
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
        {wrong && <p role="alert">{wrong}</p>}
      </Note>
    </div>
  );
}
