// Countries as files name them: by code, or in one of the usual languages.
import { getCountries } from 'libphonenumber-js/min';
import { searchKey } from '../contacts/index.js';

const LANGUAGES = ['en', 'de', 'fr', 'es', 'it', 'nl', 'pt', 'pl', 'da', 'sv'] as const;
/** Codes that are used and stand for another (ISO 3166-1, exceptionally reserved). */
const others: Readonly<Record<string, string>> = { uk: 'GB', usa: 'US', gbr: 'GB', deu: 'DE' };

let known: ReadonlyMap<string, string> | undefined;

/** The code (ISO 3166-1 alpha-2) of each country by the search keys of its names and codes; made when it is first needed, 10 languages of about 250. */
export function countryCodes(): ReadonlyMap<string, string> {
  if (known) return known;
  const found = new Map(Object.entries(others));
  for (const language of LANGUAGES) {
    const words = new Intl.DisplayNames([language], { type: 'region', fallback: 'none' });
    for (const code of getCountries()) {
      const name = words.of(code);
      if (name === undefined) continue;
      found.set(code.toLowerCase(), code);
      if (!found.has(searchKey(name))) found.set(searchKey(name), code);
    }
  }
  known = found;
  return found;
}

/** The country of a cell (ISO 3166-1 alpha-2), or undefined where it names none. */
export const countryCode = (text: string): string | undefined =>
  text.length > 60 ? undefined : countryCodes().get(searchKey(text).replaceAll('.', ''));

const english = new Intl.DisplayNames(['en'], { type: 'region', fallback: 'none' });

/** A bare code is written out in English; a name stays as it stands. */
export function countryText(text: string): string {
  const isBare = text.length < 12 && text.replace(/[.\s]/g, '').length <= 3;
  const code = isBare ? countryCode(text) : undefined;
  return (code && english.of(code)) ?? text;
}
