// Days and hours as the office reads them, in its own time zone.
import { dayIn } from '@palabra/core/office';

const cache = new Map<string, Intl.DateTimeFormat>();
function format(zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = zone + JSON.stringify(options);
  const made = cache.get(key) ?? new Intl.DateTimeFormat('en-GB', { timeZone: zone, ...options });
  cache.set(key, made);
  return made;
}

/** `18 Feb`, with the year when it is not this one. */
export function day(zone: string, at: string | Date, now = new Date()): string {
  const date = new Date(at);
  const sameYear = dayIn(zone, date).slice(0, 4) === dayIn(zone, now).slice(0, 4);
  return format(
    zone,
    sameYear
      ? { day: 'numeric', month: 'short' }
      : { day: 'numeric', month: 'short', year: 'numeric' },
  ).format(date);
}

export const clock = (zone: string, at: string | Date): string =>
  format(zone, { hour: 'numeric', minute: '2-digit', hourCycle: 'h23' }).format(new Date(at));
export const dayAndClock = (zone: string, at: string | Date): string =>
  `${day(zone, at)}, ${clock(zone, at)}`;
export const longDay = (zone: string, at: Date): string =>
  format(zone, { weekday: 'long', day: 'numeric', month: 'long' }).format(at);
export const weekday = (zone: string, at: string | Date): string =>
  format(zone, { weekday: 'short', day: 'numeric', month: 'short' }).format(new Date(at));

/** A day without a time zone, such as `2026-03-02`, as it is read: `2 Mar 2026`. */
export const longDate = (text: string): string =>
  format('UTC', { day: 'numeric', month: 'short', year: 'numeric' }).format(
    new Date(`${text}T00:00:00Z`),
  );

/** How long ago, as far as it matters in a table. */
export function ago(zone: string, at: string | null, now = new Date()): string {
  if (!at) return 'never';
  const days = Math.round(
    (Date.parse(dayIn(zone, now)) - Date.parse(dayIn(zone, new Date(at)))) / 86_400_000,
  );
  if (days <= 0) return 'today';
  if (days === 1) return 'yesterday';
  return days < 7 ? `${days} days ago` : day(zone, at, now);
}

/** Local text for a datetime input (`2026-03-02T09:00`) in the office's zone. */
export function toInput(zone: string, at: string): string {
  return `${dayIn(zone, new Date(at))}T${format(zone, { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }).format(new Date(at))}`;
}
