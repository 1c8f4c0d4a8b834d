// Countries and territories (ISO 3166) with their names, as far as the browser knows them.
const LETTERS = Array.from({ length: 26 }, (_, at) => String.fromCharCode(65 + at));
/** What is no place that anybody dials from: unions, the world, and codes that are kept free. */
const NO_COUNTRY: ReadonlySet<string> = new Set(['EU', 'EZ', 'UN', 'QO', 'XA', 'XB', 'ZZ', 'UK']);

let known: { value: string; label: string }[] | undefined;

export function countries(): { value: string; label: string }[] {
  if (known) return known;
  const names = new Intl.DisplayNames('en', { type: 'region', fallback: 'none' });
  known = LETTERS.flatMap((first) =>
    LETTERS.flatMap((second) => {
      const value = first + second;
      const label = NO_COUNTRY.has(value) ? undefined : names.of(value);
      return label === undefined ? [] : [{ value, label }];
    }),
  ).sort((one, other) => one.label.localeCompare(other.label, 'en'));
  return known;
}

type WithTimeZones = Intl.Locale & { getTimeZones?: () => string[] | undefined };

/** The country of a time zone, where the browser can tell; empty where it can't. */
export const countryOf = (timeZone: string): string =>
  countries().find(({ value }) =>
    (new Intl.Locale(`und-${value}`) as WithTimeZones).getTimeZones?.()?.includes(timeZone),
  )?.value ?? '';
