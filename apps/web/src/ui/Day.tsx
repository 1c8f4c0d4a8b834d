// Days and times, picked or typed.
import { DateInput, TimePicker } from '@mantine/dates';
import '@mantine/dates/styles.css';
import dayjs from 'dayjs';
import customParseFormat from 'dayjs/plugin/customParseFormat';
import classes from './Day.module.css';

dayjs.extend(customParseFormat);

const SHOWN = 'D MMM YYYY';
/** How a day may be typed; a day comes before its month. */
const TYPED = [
  'YYYY-MM-DD',
  SHOWN,
  'D MMMM YYYY',
  'D.M.YYYY',
  'D/M/YYYY',
  'D.M.YY',
  'D/M/YY',
  'D MMM',
  'D MMMM',
  'D.M.',
];

export function parseDay(text: string): string | null {
  const typed = text.trim();
  for (const format of TYPED) {
    const read = dayjs(typed, format, true);
    if (read.isValid()) return read.format('YYYY-MM-DD');
  }
  return null;
}

interface DayProps {
  readonly label: string;
  /** `2026-03-02`, or empty. */
  readonly value: string;
  readonly disabled?: boolean;
  /** What it means to have none; how a day is typed, without it. */
  readonly nothing?: string;
  readonly onChange: (day: string) => void;
}

export function Day({ label, value, disabled, nothing = '2 Mar 2026', onChange }: DayProps) {
  return (
    <DateInput
      variant="line"
      className={classes.day}
      aria-label={label}
      placeholder={nothing}
      valueFormat={SHOWN}
      dateParser={parseDay}
      disabled={disabled}
      value={value === '' ? null : value}
      popoverProps={{ withinPortal: true, shadow: 'sm' }}
      onChange={(day) => onChange(day ?? '')}
    />
  );
}

export function Clock({ label, value, disabled, onChange }: DayProps) {
  return (
    <TimePicker
      variant="line"
      className={classes.clock}
      aria-label={label}
      hoursInputLabel={`${label}, hours`}
      minutesInputLabel={`${label}, minutes`}
      disabled={disabled}
      value={value}
      onChange={onChange}
    />
  );
}
