// Countries as files name them: by code, or in one of the usual languages.
import { searchKey } from '../contacts/index.js';

const LANGUAGES = ['en', 'de', 'fr', 'es', 'it', 'nl', 'pt', 'pl', 'da', 'sv'] as const;
/** Codes that are used and stand for another (ISO 3166-1, exceptionally reserved). */
const others: Readonly<Record<string, string>> = { uk: 'GB', usa: 'US', gbr: 'GB', deu: 'DE' };

const A = 'A'.charCodeAt(0);
const letters = Array.from({ length: 26 }, (_, at) => String.fromCharCode(A + at));
let known: ReadonlyMap<string, string> | undefined;

/** All names of all countries, by their search keys; made when it is first needed, 10 languages of about 250. */
function names(): ReadonlyMap<string, string> {
  if (known) return known;
  const found = new Map(Object.entries(others));
  for (const language of LANGUAGES) {
    const words = new Intl.DisplayNames([language], { type: 'region', fallback: 'none' });
    for (const code of letters.flatMap((one) => letters.map((two) => one + two))) {
      const name = words.of(code);
      if (name === undefined || code === 'ZZ' || code === 'UK') continue;
      found.set(code.toLowerCase(), code);
      if (!found.has(searchKey(name))) found.set(searchKey(name), code);
    }
  }
  known = found;
  return found;
}

/** The country of a cell (ISO 3166-1 alpha-2), or undefined where it names none. */
export const countryCode = (text: string): string | undefined =>
  text.length > 60 ? undefined : names().get(searchKey(text).replaceAll('.', ''));

const english = new Intl.DisplayNames(['en'], { type: 'region', fallback: 'none' });

/** A bare code is written out in English; a name stays as it stands. */
export function countryText(text: string): string {
  const code = /^\s*[A-Za-z.]{2,4}\s*$/.test(text) ? countryCode(text) : undefined;
  return (code && english.of(code)) ?? text;
}
