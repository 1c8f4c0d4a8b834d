// At once, or at a day and time of the office.
import { momentOf, type LocalMoment } from '@palabra/core/office';
import { useState } from 'react';
import { useOffice } from '../office';
import { Clock, Day } from '../ui/Day';
import { SheetLine } from '../ui/Sheet';
import { Soft } from '../ui/text';
import { toInput } from '../ui/time';
import { Words } from '../ui/Words';
import type { PartProps } from './useCampaign';

const HOUR_MS = 3_600_000;
/** The next full hour that is at least one away. */
const soon = (): string =>
  new Date(Math.ceil((Date.now() + HOUR_MS) / HOUR_MS) * HOUR_MS).toISOString();

const clockWords: Record<LocalMoment['clocks'], string> = {
  once: '',
  skipped: 'The clocks skip that hour: it goes when they go on.',
  twice: 'That hour comes twice: it goes the first time.',
};

export function WhenPart({ value: { sendAt }, disabled, onChange }: PartProps) {
  const { office } = useOffice();
  const [clocks, setClocks] = useState<LocalMoment['clocks']>();
  const [day = '', time = ''] = sendAt === null ? [] : toInput(office.timeZone, sendAt).split('T');
  const put = (local: string): void => {
    const moment = momentOf(office.timeZone, local);
    setClocks(moment?.clocks);
    if (moment) onChange({ sendAt: moment.at.toISOString() });
  };
  return (
    <SheetLine>
      <Words
        label="When"
        value={sendAt === null ? 'now' : 'at a time'}
        disabled={disabled}
        options={['now', 'at a time']}
        onChange={(when) => {
          setClocks(undefined);
          onChange({ sendAt: when === 'now' ? null : soon() });
        }}
      />
      {sendAt !== null && (
        <>
          <Day
            label="Day"
            disabled={disabled}
            value={day}
            onChange={(next) => next !== '' && put(`${next}T${time}`)}
          />
          <Clock
            label="Time"
            disabled={disabled}
            value={time}
            onChange={(next) => next !== '' && put(`${day}T${next}`)}
          />
          <Soft>{office.timeZone.replaceAll('_', ' ')} time</Soft>
          {clocks && clocks !== 'once' && (
            <Soft c="var(--caution)" role="status">
              {clockWords[clocks]}
            </Soft>
          )}
        </>
      )}
    </SheetLine>
  );
}
