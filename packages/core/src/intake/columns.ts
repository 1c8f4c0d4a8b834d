// Reading a spreadsheet's shape: which sign separates, which column is which.
import { searchKey, type Field } from '../contacts/index.js';

export const separators = [',', ';', '\t', '|'] as const;
export type Separator = (typeof separators)[number];
export const separatorWords: Record<Separator, string> = {
  ',': 'comma',
  ';': 'semicolon',
  '\t': 'tab',
  '|': 'bar',
};

export const encodings = ['utf-8', 'windows-1252', 'utf-16le', 'utf-16be'] as const;
export type Encoding = (typeof encodings)[number];

/** `sep=;` as a first line says it; else the sign that stands outside quotes equally often on most of the first lines. */
export function findSeparator(sample: string): Separator {
  const lines = splitLines(sample).slice(0, 20);
  const said = saidSeparator(lines[0] ?? '');
  if (said) return said;
  let best: { separator: Separator; score: number } = { separator: ',', score: 0 };
  for (const separator of separators) {
    const counts = lines.map((line) => countOutsideQuotes(line, separator));
    // A title above the table has none of them.
    for (const usual of new Set(counts)) {
      const score = usual * (counts.filter((count) => count === usual).length / counts.length);
      if (score > best.score) best = { separator, score };
    }
  }
  return best.separator;
}

/** Spreadsheet programs write the separator down in a line of its own. */
export function saidSeparator(line: string): Separator | undefined {
  const said = /^\ufeff?sep=(.?)\s*$/i.exec(line)?.[1];
  return separators.find((separator) => separator === said);
}

function splitLines(text: string): string[] {
  const lines: string[] = [];
  let quoted = false;
  let from = 0;
  for (let at = 0; at < text.length; at++) {
    if (text[at] === '"') quoted = !quoted;
    else if (text[at] === '\n' && !quoted) {
      lines.push(text.slice(from, at));
      from = at + 1;
    }
  }
  if (from < text.length) lines.push(text.slice(from));
  return lines.filter((line) => line.trim() !== '');
}

function countOutsideQuotes(line: string, sign: string): number {
  let quoted = false;
  let count = 0;
  for (const one of line) {
    if (one === '"') quoted = !quoted;
    else if (one === sign && !quoted) count++;
  }
  return count;
}

/** Names that columns go by, compared by search key. */
const synonyms: Record<string, readonly string[]> = {
  address: [
    'email',
    'e-mail',
    'mail',
    'email address',
    'e-mail address',
    'mail address',
    'address email',
    'emailaddress',
    'courriel',
    'correo',
  ],
  given_name: [
    'first name',
    'firstname',
    'given name',
    'forename',
    'christian name',
    'vorname',
    'prenom',
  ],
  family_name: ['last name', 'lastname', 'surname', 'family name', 'nachname', 'name', 'nom'],
  town: ['town', 'city', 'place', 'village', 'ort', 'stadt', 'ville'],
  region: ['region', 'county', 'state', 'province', 'district'],
  postcode: ['postcode', 'zip', 'zip code', 'post code', 'postal code', 'plz'],
  country: ['country', 'land', 'pays'],
  street: ['street', 'street address', 'address line 1', 'address 1', 'strasse', 'rue', 'calle'],
  phone: ['phone', 'phone number', 'telephone', 'telephone number', 'tel', 'telefon', 'mobile'],
  position: ['position', 'job title', 'role', 'function'],
  more_addresses: ['further addresses', 'other addresses', 'second email', 'email 2', 'e-mail 2'],
};

export type Target = { readonly to: 'field'; readonly field: string } | { readonly to: 'nothing' };

/** The field that a column of this name (a search key) belongs to. */
export function fieldNamed(name: string, fields: readonly Field[]): string | undefined {
  const key = name.replace(/[_:*]+/g, ' ').trim();
  return (
    fields.find((field) => searchKey(field.label) === key)?.key ??
    Object.keys(synonyms).find((field) => synonyms[field]?.includes(key))
  );
}

/** The field each column probably belongs to; every field is used once, the rest go nowhere. */
export function recogniseColumns(
  headers: readonly string[],
  fields: readonly Field[],
  sample: readonly (readonly string[])[] = [],
): Target[] {
  const taken = new Set<string>();
  const claim = (field: string | undefined): Target => {
    if (!field || taken.has(field)) return { to: 'nothing' };
    taken.add(field);
    return { to: 'field', field };
  };
  const targets = headers.map((header) => {
    return claim(fieldNamed(searchKey(header), fields));
  });
  if (taken.has('address')) return targets;
  // No header says so: a column in which most cells hold an @ is the address.
  const at = headers.findIndex((_, column) => {
    const cells = sample.map((row) => row[column] ?? '').filter((cell) => cell.trim() !== '');
    return cells.length > 0 && cells.filter((cell) => cell.includes('@')).length * 2 > cells.length;
  });
  return targets.map((target, column) =>
    column === at ? { to: 'field', field: 'address' } : target,
  );
}
