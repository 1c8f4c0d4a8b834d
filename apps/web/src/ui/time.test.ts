// Days and hours in the office's own time zone, over changes of the clocks.
import { momentOf } from '@palabra/core/office';
import fc from 'fast-check';
import { ago, clock, day, dayAndClock, longDate, toInput } from './time.js';

const now = new Date('2026-03-10T12:00:00Z');

it.each([
  ['today', '2026-03-10T01:00:00Z', 'today'],
  ['a day of the office, not of the world', '2026-03-09T23:30:00Z', 'yesterday'],
  ['yesterday', '2026-03-09T12:00:00Z', 'yesterday'],
  ['a few days', '2026-03-06T12:00:00Z', '4 days ago'],
  ['a week', '2026-03-03T12:00:00Z', '3 Mar'],
  ['another year', '2025-03-03T12:00:00Z', '3 Mar 2025'],
  ['something to come', '2026-03-12T12:00:00Z', 'today'],
])('says how long ago: %s', (_, at, words) => expect(ago('Europe/London', at, now)).toBe(words));

it('says never where nothing happened', () => expect(ago('UTC', null, now)).toBe('never'));

it('shows the clocks of the office', () => {
  expect(clock('Europe/Lisbon', '2026-07-01T08:05:00Z')).toBe('9:05');
  expect(clock('Asia/Kolkata', '2026-07-01T08:05:00Z')).toBe('13:35');
  expect(clock('UTC', '2026-07-01T00:05:00Z')).toBe('0:05');
  expect(day('Pacific/Auckland', '2026-03-09T12:30:00Z', now)).toBe('10 Mar');
  expect(dayAndClock('UTC', '2020-07-01T00:05:00Z')).toBe('1 Jul 2020, 0:05');
  expect(longDate('2026-03-02')).toBe('2 Mar 2026');
});

it('shows what was typed, in every zone', () => {
  const zones = [
    'UTC',
    'Europe/Lisbon',
    'America/New_York',
    'Asia/Kolkata',
    'Pacific/Chatham',
    'America/St_Johns',
  ];
  fc.assert(
    fc.property(
      fc.constantFrom(...zones),
      fc.date({ min: new Date('2020-01-01'), max: new Date('2035-01-01'), noInvalidDate: true }),
      (zone, date) => {
        const shown = toInput(zone, date.toISOString());
        const again = momentOf(zone, shown);
        expect(again && toInput(zone, again.at.toISOString())).toBe(shown);
      },
    ),
  );
});
