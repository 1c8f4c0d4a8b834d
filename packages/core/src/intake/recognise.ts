// Which column of a file is which: by its name, as people abbreviate it, and by what its cells hold.
import {
  isEitherDay,
  parseAddress,
  parseDay,
  searchKey,
  type Field,
  type FieldType,
} from '../contacts/index.js';
import type { Target } from './columns.js';

/** Names that columns go by, as search keys without signs. Those of tags are no field's. */
const synonyms: Readonly<Record<string, readonly string[]>> = {
  address: [
    'email',
    'e mail',
    'mail',
    'email address',
    'e mail address',
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
    'given',
    'forename',
    'christian name',
    'vorname',
    'prenom',
    'nombre',
  ],
  family_name: [
    'last name',
    'lastname',
    'surname',
    'family name',
    'nachname',
    'name',
    'nom',
    'apellido',
    'apellidos',
  ],
  town: [
    'town',
    'city',
    'place',
    'village',
    'lives in',
    'home town',
    'ort',
    'wohnort',
    'stadt',
    'ville',
  ],
  region: ['region', 'county', 'state', 'province', 'district'],
  postcode: ['postcode', 'zip', 'zip code', 'post code', 'postal code', 'plz', 'code postal'],
  country: ['country', 'land', 'pays'],
  street: ['street', 'street address', 'address line 1', 'address 1', 'strasse', 'rue', 'calle'],
  phone: [
    'phone',
    'phone number',
    'telephone',
    'telephone number',
    'telefon',
    'mobile',
    'mobile number',
    'cell',
  ],
  position: ['position', 'job title', 'role', 'function'],
  more_addresses: [
    'further addresses',
    'other addresses',
    'second email',
    'email 2',
    'e mail 2',
    'other email',
  ],
  external_number: ['number', 'customer number', 'member number', 'membership number', 'reference'],
};
const tagNames = [
  'tag',
  'tags',
  'label',
  'labels',
  'group',
  'groups',
  'category',
  'categories',
  'keywords',
  'schlagworter',
  'etiquettes',
];

/** Given and family name in one cell; “name” alone is the family name where there is a column of given names. */
const wholeNames = [
  'full name',
  'fullname',
  'display name',
  'contact',
  'contact name',
  'person',
  'who',
  'nombre completo',
  'nom complet',
];
const ownerNames = [
  'owner',
  'kept by',
  'looked after by',
  'responsible',
  'assigned to',
  'betreuer',
  'zustandig',
];

/** Words as people shorten them. */
const shortened: Readonly<Record<string, string>> = {
  nm: 'name',
  nme: 'name',
  fst: 'first',
  '1st': 'first',
  frst: 'first',
  lst: 'last',
  fam: 'family',
  addr: 'address',
  adr: 'address',
  tel: 'telephone',
  ph: 'phone',
  mob: 'mobile',
  no: 'number',
  nr: 'number',
  num: 'number',
  til: 'until',
  till: 'until',
  ctry: 'country',
  pc: 'postcode',
  mbr: 'member',
};

/** The words of a header: a search key without signs, written out. */
const wordsOf = (name: string): string[] =>
  name
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
    .split(' ')
    .filter((word) => word !== '')
    .slice(0, 12)
    .map((word) => (Object.hasOwn(shortened, word) ? (shortened[word] ?? word) : word));

/** The least of a word by which it is known. */
const STEM = 4;
const isBegun = (word: string, by: string): boolean =>
  word === by ||
  (by.length >= STEM && word.startsWith(by)) ||
  (word.length >= STEM && by.startsWith(word));

/** Whether two names have the same words, but for their endings: “member til” and “membership until”. */
const areAlike = (one: readonly string[], other: readonly string[]): boolean =>
  one.length === other.length && one.every((word, at) => isBegun(word, other[at] ?? ''));

/** The field that a column of this name (a search key) belongs to. */
export function fieldNamed(name: string, fields: readonly Field[]): string | undefined {
  const words = wordsOf(name);
  const plain = words.join(' ');
  if (plain === '') return undefined;
  const labels = fields.map(({ key, label }) => ({ key, words: wordsOf(searchKey(label)) }));
  return (
    labels.find((field) => field.words.join(' ') === plain)?.key ??
    Object.keys(synonyms).find((field) => synonyms[field]?.includes(plain)) ??
    labels.find((field) => areAlike(field.words, words))?.key
  );
}

const isNamed = (names: readonly string[], name: string): boolean =>
  names.includes(wordsOf(name).join(' '));

/** What a header names that is no field. */
function otherTarget(name: string): Target {
  if (isNamed(tagNames, name)) return { to: 'tags' };
  if (isNamed(wholeNames, name)) return { to: 'name' };
  return isNamed(ownerNames, name) ? { to: 'owner' } : { to: 'nothing' };
}

/** What cells hold that no header named, the surest first. */
const contents: readonly (readonly [string, (cell: string) => boolean])[] = [
  ['address', (cell) => cell.includes('@') && parseAddress(cell).ok],
  [
    'phone',
    (cell) =>
      /^[+(]?[\d\s()/.-]+$/.test(cell) &&
      cell.replace(/\D/g, '').length >= 7 &&
      /^[+(0]/.test(cell),
  ],
];

/** What each column probably fills; every field is filled once, the rest go nowhere. */
export function recogniseColumns(
  headers: readonly string[],
  fields: readonly Field[],
  sample: readonly (readonly string[])[] = [],
): Target[] {
  const taken = new Set<string>();
  const targets = headers.map((header): Target => {
    const name = searchKey(header);
    const field = fieldNamed(name, fields);
    if (field !== undefined && !taken.has(field)) {
      taken.add(field);
      return { to: 'field', field };
    }
    const other = field === undefined ? otherTarget(name) : { to: 'nothing' as const };
    const once = other.to === 'name' || other.to === 'owner';
    if (once && taken.has(other.to)) return { to: 'nothing' };
    if (once) taken.add(other.to);
    return other;
  });
  for (const [field, holds] of contents) {
    if (taken.has(field) || !fields.some(({ key }) => key === field)) continue;
    const at = headers.findIndex((_, column) => {
      if (targets[column]?.to !== 'nothing') return false;
      const cells = sample.map((row) => (row[column] ?? '').trim()).filter((cell) => cell !== '');
      return cells.length > 0 && cells.filter(holds).length * 2 > cells.length;
    });
    if (at < 0) continue;
    taken.add(field);
    targets[at] = { to: 'field', field };
  }
  return withWholeNames(targets, sample, taken);
}

/** A column of family names that holds two words in most cells, where nobody has a given name, holds whole names. */
function withWholeNames(
  targets: readonly Target[],
  sample: readonly (readonly string[])[],
  taken: ReadonlySet<string>,
): Target[] {
  return targets.map((target, at) => {
    if (taken.has('given_name'))
      return target.to === 'name' && taken.has('family_name') ? { to: 'nothing' } : target;
    if (target.to !== 'field' || target.field !== 'family_name' || taken.has('name')) return target;
    const cells = sample.map((row) => (row[at] ?? '').trim()).filter((cell) => cell !== '');
    const whole = cells.filter((cell) => /\s/.test(cell));
    return whole.length * 2 > cells.length ? { to: 'name' } : target;
  });
}

const YES_OR_NO = /^(?:yes|no|y|n|true|false)$/i;

/** The kind of field that a column would make, by what its cells hold. */
export function guessedType(cells: readonly string[]): FieldType {
  const held = cells.map((cell) => cell.trim()).filter((cell) => cell !== '');
  const all = (holds: (cell: string) => boolean): boolean => held.length > 0 && held.every(holds);
  if (all((cell) => parseDay(cell) !== undefined || isEitherDay(cell))) return 'date';
  if (all((cell) => YES_OR_NO.test(cell))) return 'yes or no';
  // Figures with a zero before them are a number of something: an article, an account.
  if (all((cell) => /^-?(?:0|[1-9]\d{0,14})(?:[.,]\d{1,4})?$/.test(cell))) return 'number';
  if (all((cell) => /^https?:\/\/\S{3,500}$/i.test(cell))) return 'link';
  return held.some((cell) => cell.length > 150 || cell.includes('\n')) ? 'long text' : 'text';
}
