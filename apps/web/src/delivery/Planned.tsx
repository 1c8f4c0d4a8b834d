// A campaign that waits for its time; in its last seconds, how many are left to say not yet.
import { Button } from '@mantine/core';
import { useEffect, useState } from 'react';
import type { Move } from '../campaigns';
import { useMay, useOffice } from '../office';
import { Note } from '../ui/states';
import { dayAndClock } from '../ui/time';

const LAST_SECONDS = 60;

export function Planned({
  sendAt,
  senderName,
  act,
}: {
  readonly sendAt: string;
  readonly senderName: string;
  readonly act: (step: Move) => void;
}) {
  const { office } = useOffice();
  const maySend = useMay('send');
  const left = useSecondsUntil(sendAt);
  if (left <= LAST_SECONDS)
    return (
      <Note>
        <span role="timer">
          {left > 0 ? `The first letter leaves in ${left} seconds.` : 'On its way …'}
        </span>{' '}
        {maySend && left > 0 && (
          <Button variant="default" size="compact-sm" onClick={() => act('unschedule')}>
            Not yet
          </Button>
        )}
      </Note>
    );
  return (
    <Note>
      Goes out <b>{dayAndClock(office.timeZone, sendAt)}</b>, from {senderName}. Who receives it is
      written down at that moment.{' '}
      {maySend && (
        <Button variant="default" size="compact-sm" onClick={() => act('unschedule')}>
          Call it back to a draft
        </Button>
      )}
    </Note>
  );
}

function useSecondsUntil(moment: string): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(timer);
  }, []);
  return Math.max(0, Math.ceil((Date.parse(moment) - now) / 1000));
}
