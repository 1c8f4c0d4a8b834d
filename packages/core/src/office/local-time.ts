// From what the office's clocks show to a moment. Clocks are set forward and back: some times are shown twice,
// some never.

export interface LocalMoment {
  readonly at: Date;
  /** `skipped`: the clocks never show this; `at` is when they go on. `twice`: they show it again; `at` is the first. */
  readonly clocks: 'once' | 'twice' | 'skipped';
}

const MINUTE = 60_000;
const DAY = 24 * 60 * MINUTE;

/** Formats by time zone: making one takes a hundred times as long as using it. */
export function formatByZone(
  options: Intl.DateTimeFormatOptions,
): (timeZone: string) => Intl.DateTimeFormat {
  const made = new Map<string, Intl.DateTimeFormat>();
  return (timeZone) => {
    let format = made.get(timeZone);
    if (!format) {
      format = new Intl.DateTimeFormat('en-CA', { ...options, timeZone });
      made.set(timeZone, format);
    }
    return format;
  };
}

const minuteIn = formatByZone({
  calendar: 'gregory',
  numberingSystem: 'latn',
  year: 'numeric',
  month: '2-digit',
  day: '2-digit',
  hour: '2-digit',
  minute: '2-digit',
  hourCycle: 'h23',
});

/** What the clocks of a time zone show, as milliseconds since 1970 of a clock that shows UTC; to the minute. */
function shownAt(timeZone: string, at: number): number {
  const parts = Object.fromEntries(
    minuteIn(timeZone)
      .formatToParts(at)
      .map(({ type, value }) => [type, Number(value)]),
  );
  return Date.UTC(
    parts['year'] ?? 0,
    (parts['month'] ?? 1) - 1,
    parts['day'],
    parts['hour'],
    parts['minute'],
  );
}

/**
 * When a day, `YYYY-MM-DD`, begins: at the first moment of it, where its midnight comes twice or never. The day of any moment
 * from there until the next day begins is this one, as `dayIn` says.
 */
export function dayBegins(timeZone: string, day: string): Date {
  const found = momentOf(timeZone, `${day}T00:00`);
  if (!found) throw new Error(`${day} is no day`);
  return found.at;
}

/** `text`: `2026-03-02T09:00`, a whole day and time; undefined for anything else. */
export function momentOf(timeZone: string, text: string): LocalMoment | undefined {
  const wanted = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/.test(text) ? Date.parse(`${text}:00Z`) : NaN;
  if (Number.isNaN(wanted)) return undefined;
  // No zone changes its clocks twice within two days; the offsets around are those before and after a change.
  const offsets = [
    ...new Set([wanted - DAY, wanted + DAY].map((at) => shownAt(timeZone, at) - at)),
  ];
  const found = offsets
    .map((offset) => wanted - offset)
    .filter((at) => shownAt(timeZone, at) === wanted);
  const first = Math.min(...found);
  if (found.length > 0) return { at: new Date(first), clocks: found.length > 1 ? 'twice' : 'once' };
  // In between the clocks are set forward: the first moment at which they show something later.
  let [before, after] = [wanted - Math.max(...offsets), wanted - Math.min(...offsets)];
  while (after - before > MINUTE) {
    const middle = before + Math.floor((after - before) / 2 / MINUTE) * MINUTE;
    if (shownAt(timeZone, middle) > wanted) after = middle;
    else before = middle;
  }
  return { at: new Date(after), clocks: 'skipped' };
}
