// What the rows of a file do to people: somebody new, somebody changed, nobody changed, or refused. Somebody who is on
// several rows is one person: their first row counts, and what the later ones say comes on top.
import {
  displayName,
  joinKeys,
  lines,
  parseAddress,
  permissionValues,
  searchKey,
  splitKeys,
  tagKey,
  FIELD_LIMITS,
  type ContactId,
  type Field,
  type FieldType,
  type FieldValue,
  type PermissionKind,
  type PermissionTerms,
  type TagId,
} from '../contacts/index.js';
import type { Result } from '../kernel/index.js';
import type { UserId } from '../office/index.js';
import { waysOf, type KnownWay, type Matching, type Target } from './columns.js';
import type { RowOutcome } from './outcomes.js';
import { problem, type RowProblem } from './problems.js';
import { raisesPermission, type ImportedRow } from './row.js';

/** Whoever has an address already. */
export interface KnownPerson {
  readonly id: ContactId;
  readonly permission: PermissionKind;
  /** One whom this import may not change. */
  readonly isElsewhere: boolean;
  /** What an earlier row of the file did to them. */
  readonly earlier: RowOutcome | undefined;
  readonly value: (field: string) => FieldValue;
  readonly hasTag: (tag: TagId) => boolean;
}

export interface ReadRow {
  readonly row: number;
  readonly read: Result<ImportedRow, RowProblem>;
  /** Who is meant, where somebody said it. */
  readonly person?: KnownPerson | undefined;
}

type DecidedValues = Readonly<Record<string, FieldValue>>;

/** One person of the file who is new, or may be changed. */
export interface DecidedPerson {
  /** Undefined for somebody new. */
  readonly known: KnownPerson | undefined;
  /** All that is known of somebody new; of others only what differs. */
  readonly values: DecidedValues;
  /** All that their rows name, and those that everybody gets. */
  readonly tags: readonly TagId[];
  /** Who looks after somebody new, where a row says it. */
  readonly owner: UserId | undefined;
  /** What their first row counts as; each further one is `again`. */
  readonly outcome: Extract<RowOutcome, 'new' | 'changed' | 'unchanged' | 'again'>;
  readonly rows: readonly number[];
  /** An earlier row counted them as unchanged, and this one changes them. */
  readonly isChangedAfterAll: boolean;
}

/** A row that changes nobody. */
export type IdleRow =
  | { readonly row: number; readonly outcome: 'refused'; readonly reason: RowProblem }
  | { readonly row: number; readonly outcome: 'elsewhere'; readonly person: ContactId }
  /** A further row of somebody elsewhere: nobody is named twice. */
  | { readonly row: number; readonly outcome: 'again'; readonly person: ContactId };

export interface DecidedRows {
  readonly people: readonly DecidedPerson[];
  readonly idle: readonly IdleRow[];
  /** What is worth a look of rows that come in. */
  readonly hints: readonly { readonly row: number; readonly hint: RowProblem }[];
}

/** What was said of the file and of its people, and who has which external number, by its key. */
export interface Terms {
  readonly mapping: readonly Target[];
  readonly matching: Matching;
  readonly fields: ReadonlyMap<string, Field>;
  readonly permission: PermissionTerms;
  /** What somebody new has where their rows say nothing. */
  readonly standard: DecidedValues;
  readonly numbers: ReadonlyMap<string, KnownPerson>;
  /** What everybody gets, and the tags that rows name, by their keys; one that is not there is put on nobody. */
  readonly tags: readonly TagId[];
  readonly named: ReadonlyMap<string, TagId>;
  /** Colleagues that rows name, by `searchKey`. */
  readonly owners: ReadonlyMap<string, UserId>;
}

interface Merged {
  readonly known: KnownPerson | undefined;
  values: DecidedValues;
  readonly tags: Set<TagId>;
  owner: UserId | undefined;
  readonly rows: number[];
}

const NOBODY_NUMBERED = 'nobody has this number, and without an address nobody new comes in';

/** `known` by the keys of their addresses, first and further ones. */
export function decideRows(
  rows: readonly ReadRow[],
  known: ReadonlyMap<string, KnownPerson>,
  terms: Terms,
): DecidedRows {
  const idle: IdleRow[] = [];
  const hints: DecidedRows['hints'][number][] = [];
  const elsewhere = new Set<ContactId>();
  const claims = new Claims(known, terms.numbers);
  const merged = new Map<string, Merged>();
  const ways = new Ways(terms);
  const required = [...terms.fields.values()].filter(({ isRequired }) => isRequired);
  const lacksOf = (values: DecidedValues): Field | undefined =>
    required.find(({ key }) => (values[key] ?? null) === null);
  const isKnownElsewhere = ({ id, earlier }: KnownPerson): boolean =>
    earlier !== undefined || elsewhere.has(id);
  for (const { row, read, person: meant } of rows) {
    if (!read.ok) {
      idle.push({ row, outcome: 'refused', reason: read.error });
      continue;
    }
    const refuse = (at: number | null, words: string): void => {
      idle.push({ row, outcome: 'refused', reason: problem('refused', at, words) });
    };
    const { address, values: said } = read.value;
    const number = terms.matching === 'external number' ? numberOf(said) : undefined;
    const person =
      meant ??
      (number === undefined ? undefined : terms.numbers.get(number)) ??
      (address && known.get(address.key));
    // Of somebody hidden no more is asked, and no less, than of somebody new: by that they would be known.
    if (
      person?.isElsewhere &&
      (isKnownElsewhere(person) ||
        (address !== undefined &&
          !lacksOf({ ...terms.standard, ...said, address: address.address })))
    ) {
      const isFirst = !isKnownElsewhere(person);
      elsewhere.add(person.id);
      idle.push({ row, outcome: isFirst ? 'elsewhere' : 'again', person: person.id });
      continue;
    }
    if (person?.isElsewhere && !address) {
      refuse(null, NOBODY_NUMBERED);
      continue;
    }
    const who = person
      ? nameOf(person.id)
      : (claims.whoHasNumber(number) ?? (address && (claims.whoHas(address.key) ?? address.key)));
    if (who === undefined) {
      refuse(null, NOBODY_NUMBERED);
      continue;
    }
    const before = merged.get(who);
    const one: Merged = before ?? {
      known: person,
      values: person || !address ? {} : { ...terms.standard, address: address.address },
      tags: new Set(terms.tags),
      owner: undefined,
      rows: [],
    };
    const isTheirs = !address || claims.whoHas(address.key) === who || !(person ?? before);
    const values = isTheirs ? said : withAddress(said, address.address, ways.of('address'));
    const rises = !person || raisesPermission(person.permission, terms.permission.permission);
    const next = {
      ...ways.combine(one, values),
      ...(rises ? permissionValues(terms.permission) : {}),
    };
    const lacks = person && !person.isElsewhere ? undefined : lacksOf(next);
    const taken = claims.problem(who, values, isTheirs ? undefined : address.key);
    if (taken !== undefined || lacks) {
      refuse(
        lacks ? ways.columnOf(lacks.key) : null,
        taken ?? `${lacks?.label ?? 'a field'} is required`,
      );
      continue;
    }
    const hint = person && anotherName(person, said, ways);
    if (hint) hints.push({ row, hint });
    claims.claim(who, address?.key, values);
    one.rows.push(row);
    for (const name of read.value.tags) {
      const tag = terms.named.get(tagKey(name));
      if (tag !== undefined) one.tags.add(tag);
    }
    one.owner ??= terms.owners.get(searchKey(read.value.owner));
    one.values = next;
    merged.set(who, one);
  }
  return { people: [...merged.values()].map(decided), idle, hints };
}

/** Somebody known by other than this address gets it: on top of theirs, or in the place of their first. */
const withAddress = (values: DecidedValues, address: string, way: KnownWay): DecidedValues =>
  way === 'replace'
    ? { ...values, address }
    : way === 'leave'
      ? values
      : {
          ...values,
          more_addresses: [...lines(String(values['more_addresses'] ?? '')), address].join('\n'),
        };

/** What becomes of what people have already, field by field. */
class Ways {
  private readonly said = new Map<string, KnownWay>();
  private readonly columns = new Map<string, number>();

  constructor({ mapping, fields }: Pick<Terms, 'mapping' | 'fields'>) {
    for (const [at, target] of mapping.entries()) {
      if (target.to === 'name') {
        this.columns.set('given_name', at);
        this.columns.set('family_name', at);
      }
      if (target.to !== 'field') continue;
      this.columns.set(target.field, at);
      if (target.way) this.said.set(target.field, target.way);
    }
    for (const { key, type } of fields.values())
      if (!this.said.has(key)) this.said.set(key, waysOf(type)[0] ?? 'replace');
    // Nobody's first address is another one unless somebody said so.
    const column = mapping.find((one) => one.to === 'field' && one.field === 'address');
    if (column?.to !== 'field' || !column.way) this.said.set('address', 'add');
    this.types = new Map([...fields.values()].map(({ key, type }) => [key, type]));
  }

  private readonly types: ReadonlyMap<string, FieldType>;

  of(field: string): KnownWay {
    return this.said.get(field) ?? 'replace';
  }

  columnOf(field: string): number | null {
    return this.columns.get(field) ?? null;
  }

  /** What a row says, on top of what earlier rows said and of what was there. */
  combine({ known, values }: Pick<Merged, 'known' | 'values'>, said: DecidedValues): DecidedValues {
    const next: Record<string, FieldValue> = { ...values };
    for (const [key, value] of Object.entries(said)) {
      const was = Object.hasOwn(values, key) ? (values[key] ?? null) : (known?.value(key) ?? null);
      const way = this.of(key);
      if (known && way === 'leave') continue;
      next[key] = combined(way, this.types.get(key), was, value);
    }
    return next;
  }
}

function combined(
  way: KnownWay,
  type: FieldType | undefined,
  was: FieldValue,
  value: FieldValue,
): FieldValue {
  if (was === null || way === 'replace') return value;
  if (way !== 'add' || typeof was !== 'string' || typeof value !== 'string') return was;
  if (type === 'choices') return joinKeys([...splitKeys(was), ...splitKeys(value)]);
  const there = lines(was);
  const keyed = new Set(there.map((line) => lineKey(type, line)));
  const fresh = lines(value).filter((line) => !keyed.has(lineKey(type, line)));
  const all = [...there, ...fresh];
  if (type === 'addresses' || type === 'phones') return all.slice(0, FIELD_LIMITS.lines).join('\n');
  if (type !== 'long text') return was;
  const text = fresh.length === 0 ? was : `${was}\n${fresh.join('\n')}`;
  return text.length > FIELD_LIMITS.longText ? was : text;
}

function lineKey(type: FieldType | undefined, line: string): string {
  if (type !== 'addresses') return line;
  const parsed = parseAddress(line);
  return parsed.ok ? parsed.value.key : line;
}

/** One address of two people: where both have a given name, and neither begins with the other. */
function anotherName(person: KnownPerson, said: DecidedValues, ways: Ways): RowProblem | undefined {
  const text = (value: FieldValue | undefined): string => (typeof value === 'string' ? value : '');
  const [ours, theirs] = [person.value('given_name'), said['given_name']].map((value) =>
    searchKey(text(value)),
  ) as [string, string];
  if (ours === '' || theirs === '' || ours.startsWith(theirs) || theirs.startsWith(ours))
    return undefined;
  if (ways.of('given_name') !== 'replace') return undefined;
  const name = displayName({
    given: text(person.value('given_name')),
    family: text(person.value('family_name')),
  });
  const cells = Object.fromEntries(
    ['given_name', 'family_name'].flatMap((key) => {
      const at = ways.columnOf(key);
      return at === null ? [] : [[at, '']];
    }),
  );
  return problem('hint', ways.columnOf('given_name'), `another name than here: ${name}`, [
    { words: 'keep ours', cells },
  ]);
}

/** One address, and one external number, is one person's: of those who are there, and of those who come in. */
class Claims {
  private readonly claimed = new Map<string, string>();

  constructor(
    private readonly known: ReadonlyMap<string, KnownPerson>,
    private readonly numbers: ReadonlyMap<string, KnownPerson>,
  ) {}

  /** The name of whoever has an address. */
  whoHas(addressKey: string): string | undefined {
    const person = this.known.get(addressKey);
    return person ? nameOf(person.id) : this.claimed.get(addressKey);
  }

  whoHasNumber(key: string | undefined): string | undefined {
    if (key === undefined) return undefined;
    const person = this.numbers.get(key);
    return person ? nameOf(person.id) : this.claimed.get(numbered(key));
  }

  /** `addressKey` of an address that is not known to be theirs. */
  problem(who: string, values: DecidedValues, addressKey?: string): string | undefined {
    const first = addressKey === undefined ? undefined : this.whoHas(addressKey);
    if (first !== undefined && first !== who) return 'the address is somebody else’s';
    for (const [key, address] of furtherOf(values)) {
      const other = this.whoHas(key);
      if (other !== undefined && other !== who) return `“${address}” is somebody else’s address`;
    }
    const number = numberOf(values);
    const other = this.whoHasNumber(number);
    return other !== undefined && other !== who
      ? `external number “${String(values['external_number'])}” is somebody else’s`
      : undefined;
  }

  claim(who: string, addressKey: string | undefined, values: DecidedValues): void {
    if (addressKey !== undefined) this.claimed.set(addressKey, who);
    for (const [key] of furtherOf(values)) this.claimed.set(key, who);
    const number = numberOf(values);
    if (number !== undefined) this.claimed.set(numbered(number), who);
  }
}

/** No address has a blank before its domain, and no name of somebody new is one of these. */
const nameOf = (id: ContactId): string => `person ${id}`;
const numbered = (key: string): string => `number ${key}`;

/** Further addresses of a row, by their keys. */
export const furtherOf = (values: DecidedValues): [key: string, address: string][] =>
  lines(String(values['more_addresses'] ?? '')).flatMap((line) => {
    const parsed = parseAddress(line);
    return parsed.ok ? [[parsed.value.key, line]] : [];
  });

/** The key of the external number of a row. */
export function numberOf(values: DecidedValues): string | undefined {
  const number = values['external_number'];
  return typeof number === 'string' ? searchKey(number) : undefined;
}

/** Nobody's first address is a further one, too. */
function withoutFirst(values: DecidedValues, address: FieldValue | undefined): DecidedValues {
  const further = values['more_addresses'];
  if (typeof further !== 'string' || typeof address !== 'string') return values;
  const first = lineKey('addresses', address);
  const rest = lines(further).filter((line) => lineKey('addresses', line) !== first);
  return { ...values, more_addresses: rest.length === 0 ? null : rest.join('\n') };
}

function decided(one: Merged): DecidedPerson {
  const { known, rows, owner } = one;
  const tags = [...one.tags];
  const all = withoutFirst(one.values, one.values['address'] ?? known?.value('address'));
  if (!known) return { ...one, values: all, tags, outcome: 'new', isChangedAfterAll: false };
  const values = Object.fromEntries(
    Object.entries(all).filter(([key, value]) => known.value(key) !== value),
  );
  const changes = Object.keys(values).length > 0 || tags.some((tag) => !known.hasTag(tag));
  return {
    known,
    values,
    tags,
    owner,
    rows,
    outcome: known.earlier ? 'again' : changes ? 'changed' : 'unchanged',
    isChangedAfterAll: changes && known.earlier === 'unchanged',
  };
}

/** How many rows count as what. */
export function countOutcomes(
  outcomes: Iterable<RowOutcome>,
): Readonly<Record<RowOutcome, number>> {
  const counts = { new: 0, changed: 0, unchanged: 0, refused: 0, elsewhere: 0, again: 0, out: 0 };
  for (const outcome of outcomes) counts[outcome]++;
  return counts;
}
