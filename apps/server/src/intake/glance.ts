// What the rows of a file would do, chunk by chunk, and the counts of it.
import { createHash } from 'node:crypto';
import {
  alikeTags,
  beginning,
  nameKey,
  searchKey,
  tagKey,
  textKey,
  type ContactId,
  type FieldValue,
  type TagId,
} from '@palabra/core/contacts';
import {
  countOutcomes,
  cutCells,
  mended,
  numberOf,
  problem,
  shownValue,
  type DecidedPerson,
  type KnownPerson,
  type LookCounts,
  type RowOutcome,
  type RowProblem,
  type Target,
} from '@palabra/core/intake';
import { seesEverybody } from '@palabra/core/office';
import { allTags, nobody, scope } from '../contacts/index.js';
import { type Db } from '../platform/database.js';
import {
  Deciding,
  keysOf,
  strayOwner,
  MOST_TAGS_MADE,
  SET_BY_ITSELF,
  tagsAsked,
  TOO_MANY_TAGS,
  valuesOf,
  type Coming,
  type Decided,
  type Said,
} from './deciding.js';
import { type Line } from './files.js';
import * as store from './look.store.js';
import { type Import } from './intake.store.js';
import { WAS_ERASED } from './personal.js';

/** So many names of tags, and of owners, are told of; and so many are counted: a column of something else has a name in each row. */
const MOST_NAMES = 100;
const MOST_COUNTED = 1000;

type Tags = Awaited<ReturnType<typeof allTags>>;

/** 53 bits of a digest: two of two million keys share one in one of four thousand files. */
function short(key: string): number {
  const digest = createHash('sha1').update(key).digest();
  return digest.readUIntBE(0, 6) * 32 + (digest.readUInt8(6) & 31);
}

/** What is remembered from chunk to chunk: numbers only, however long the file is. */
export class Glance {
  /** First rows of people who are not there yet, by what they are known by. */
  private readonly coming = new Map<number, number>();
  /** First rows of people who are there, and what they did. */
  private readonly seen = new Map<ContactId, { readonly row: number; outcome: RowOutcome }>();
  private changedLater: number[] = [];
  private readonly outcomes = { ...countOutcomes([]) };
  private look = 0;
  private mended = 0;
  private doNotMail = 0;
  private readonly fields = new Map<string, { changed: number; filled: number }>();
  private readonly newTags = new Map<
    string,
    { readonly name: string; readonly at: number; rows: number }
  >();
  private readonly unknownOwners = new Map<string, { readonly name: string; rows: number }>();
  private readonly tags: ReadonlyMap<string, Tags[number]>;
  private readonly meant: ReadonlyMap<string, TagId | null>;

  constructor(
    private readonly current: Import,
    private readonly said: Said,
    tags: Tags,
    private readonly deciding: Deciding,
  ) {
    this.tags = new Map(tags.map((tag) => [tag.nameKey, tag]));
    this.meant = new Map(current.tagsMeant.map(({ name, tag }) => [tagKey(name), tag]));
  }

  /** Rows to be written down, in the order of the file. */
  async rows(db: Db, lines: readonly Line[]): Promise<store.Look[]> {
    const staying = lines.filter(({ mend }) => !mend?.isOut);
    const { read, kept } = await this.deciding.read(db, this.current, staying, this.said);
    const named = this.named(valuesOf(read));
    const decided = await this.deciding.decide(db, this.current, read, this.said, {
      lock: false,
      lines: staying,
      named,
      earlier: (ids) =>
        Promise.resolve(
          new Map(
            ids.flatMap((id): [ContactId, RowOutcome][] => {
              const before = this.seen.get(id);
              return before ? [[id, before.outcome]] : [];
            }),
          ),
        ),
      coming: this.strangers,
    });
    const problems = await this.problems(db, decided, lines, kept);
    const outcomes = this.settle(decided);
    const was = this.before(decided);
    return lines.map((line) => {
      const { row, mend } = line;
      const one = outcomes.get(row) ?? { outcome: 'out' as const, contact: null, sameAs: null };
      const own = problems.get(row) ?? [];
      const isLook =
        one.outcome !== 'out' &&
        own.some(({ kind }) => kind === 'refused' || (isWorthALook(kind, own) && !mend?.isSeen));
      const isMended =
        mend !== undefined &&
        (Object.keys(mend.cells).length > 0 || mend.person !== null || mend.isSeen);
      this.outcomes[one.outcome] += 1;
      if (isLook) this.look += 1;
      if (isMended && !isLook && one.outcome !== 'out') this.mended += 1;
      const isErased = own.some(({ words }) => words === WAS_ERASED);
      return {
        importId: this.current.id,
        version: this.current.lookWanted,
        row,
        line: line.line,
        outcome: one.outcome,
        contactId: one.contact,
        sameAs: one.sameAs,
        isLook,
        isMended: isMended && one.outcome !== 'out',
        cells: isErased ? [] : cutCells(mend ? mended(line.cells, mend) : line.cells),
        problems: own.length === 0 ? null : [...own],
        was: was.get(row) ?? null,
      };
    });
  }

  /** Rows of earlier chunks whose people were counted as unchanged, and are changed after all. */
  changedAfterAll(): readonly number[] {
    const rows = this.changedLater;
    this.changedLater = [];
    return rows;
  }

  counts(): LookCounts {
    const most = <T extends { readonly rows: number }>(names: Iterable<T>): T[] =>
      [...names].sort((a, b) => b.rows - a.rows).slice(0, MOST_NAMES);
    const office = [...this.tags.values()].filter(({ kind }) => kind === 'office');
    // Names of the file stand behind all keys that there are.
    const asked = most(this.newTags.values());
    const alike = new Map<number, TagId>();
    const pairs = alikeTags([
      ...office,
      ...asked.map(({ name }, at) => ({ id: -(at + 1) as TagId, name })),
    ]);
    for (const { one, other } of pairs)
      if (one < 0 && other > 0) alike.set(Math.abs(one) - 1, other);
    return {
      outcomes: { ...this.outcomes },
      look: this.look,
      mended: this.mended,
      doNotMail: this.doNotMail,
      fields: [...this.fields].map(([field, counts]) => ({ field, ...counts })),
      newTags: asked.map(({ name, rows }, at) => ({ name, rows, alike: alike.get(at) ?? null })),
      unknownOwners: most(this.unknownOwners.values()),
    };
  }

  /** The tags that rows name: those that are there, and as many new ones as are made, in the order of the file. */
  private named(rows: Parameters<typeof tagsAsked>[0]): ReadonlyMap<string, TagId> {
    const asked = tagsAsked(rows);
    for (const [key, name] of asked)
      if (!this.tags.has(key) && !this.meant.has(key) && this.newTags.size < MOST_COUNTED)
        this.newTags.set(key, this.newTags.get(key) ?? { name, rows: 0, at: this.newTags.size });
    for (const { tags } of rows)
      for (const key of new Set(tags.map(tagKey))) {
        const tag = this.newTags.get(key);
        if (tag) tag.rows += 1;
      }
    const named = new Map<string, TagId>();
    for (const key of asked.keys()) {
      const tag = this.tags.get(key);
      const meant = this.meant.get(key) ?? (tag?.kind === 'office' ? tag.id : undefined);
      const fresh = this.newTags.get(key);
      if (this.meant.get(key) === null) continue;
      if (meant !== undefined) named.set(key, meant);
      // It will have a key; whoever gets it does not have it yet.
      else if (fresh && fresh.at < MOST_TAGS_MADE) named.set(key, (-1 - fresh.at) as TagId);
    }
    return named;
  }

  /** Why a tag that a row names is put on nobody. */
  private lost(name: string): string | undefined {
    const key = tagKey(name);
    if (this.meant.has(key)) return undefined;
    const tag = this.tags.get(key);
    if (tag) return tag.kind === 'office' ? undefined : SET_BY_ITSELF;
    return (this.newTags.get(key)?.at ?? MOST_TAGS_MADE) < MOST_TAGS_MADE
      ? undefined
      : TOO_MANY_TAGS;
  }

  /** People of earlier chunks, as the decision sees them: they are there by the time this row comes in. */
  private readonly strangers: Coming = {
    at: (key) => this.stranger(`address ${key}`),
    numbered: (key) => this.stranger(`number ${key}`),
  };

  private stranger(claim: string): KnownPerson | undefined {
    const row = this.coming.get(short(claim));
    return row === undefined
      ? undefined
      : {
          id: -row as ContactId,
          permission: this.current.permission,
          isElsewhere: false,
          earlier: 'new',
          value: () => null,
          hasTag: () => true,
        };
  }

  private settle({ people, idle, read }: Decided) {
    const found = new Map<
      number,
      {
        readonly outcome: RowOutcome;
        readonly contact: ContactId | null;
        readonly sameAs: number | null;
      }
    >();
    const said = new Map(read.map((one) => [one.row, one.read]));
    for (const one of idle) {
      if (one.outcome === 'refused') {
        found.set(one.row, { outcome: 'refused', contact: null, sameAs: null });
        continue;
      }
      const before = this.seen.get(one.person);
      if (!before) this.seen.set(one.person, { row: one.row, outcome: 'elsewhere' });
      const sameAs = one.outcome === 'again' ? (before?.row ?? null) : null;
      found.set(one.row, { outcome: one.outcome, contact: one.person, sameAs });
    }
    for (const person of people) {
      const [first = 0] = person.rows;
      const id = person.known?.id;
      const before = id === undefined ? undefined : id < 0 ? Math.abs(id) : this.seen.get(id)?.row;
      for (const [at, row] of person.rows.entries()) {
        const outcome = at === 0 ? person.outcome : 'again';
        const sameAs = outcome === 'again' ? (before ?? first) : null;
        const contact = id !== undefined && id > 0 ? id : null;
        found.set(row, { outcome, contact, sameAs });
        const own = said.get(row);
        if (id === undefined && own?.ok) {
          for (const key of keysOf(own.value)) this.come(`address ${key}`, first);
          const number = numberOf(own.value.values);
          if (number !== undefined) this.come(`number ${number}`, first);
        }
      }
      if (id === undefined || id < 0) continue;
      this.countFields(person, before === undefined);
      const known = this.seen.get(id);
      if (!known) this.seen.set(id, { row: first, outcome: person.outcome });
      else if (person.isChangedAfterAll) {
        known.outcome = 'changed';
        this.changedLater.push(known.row);
        this.outcomes.unchanged -= 1;
        this.outcomes.changed += 1;
      }
    }
    return found;
  }

  private come(claim: string, row: number): void {
    const key = short(claim);
    if (!this.coming.has(key)) this.coming.set(key, row);
  }

  private countFields({ known, values }: DecidedPerson, isFirst: boolean): void {
    if (!known || !isFirst) return;
    for (const field of Object.keys(values)) {
      if (!this.said.fields.has(field)) continue;
      const counts = this.fields.get(field) ?? { changed: 0, filled: 0 };
      if (known.value(field) === null) counts.filled += 1;
      else counts.changed += 1;
      this.fields.set(field, counts);
    }
  }

  /** What people have in fields that a cell of their row changes. */
  private before({ people, read }: Decided): ReadonlyMap<number, Record<number, string>> {
    const found = new Map<number, Record<number, string>>();
    const said = new Map(
      read.flatMap(({ row, read: one }) => (one.ok ? [[row, one.value.values] as const] : [])),
    );
    for (const { known, values, rows } of people) {
      if (!known || known.id < 0) continue;
      for (const row of rows) {
        const own = said.get(row) ?? {};
        const was: Record<number, string> = {};
        for (const [at, target] of this.current.mapping.entries()) {
          const keys = filledBy(target).filter((key) => Object.hasOwn(own, key));
          // A later row of theirs may change what this one leaves.
          if (!keys.some((key) => Object.hasOwn(values, key) && own[key] !== known.value(key)))
            continue;
          was[at] = beginning(
            keys
              .map((key) => shown(this.said.fields.get(key), known.value(key)))
              .join(' ')
              .trim(),
            200,
          );
        }
        if (Object.keys(was).length > 0) found.set(row, was);
      }
    }
    return found;
  }

  private async problems(
    db: Db,
    decided: Decided,
    lines: readonly Line[],
    kept: ReadonlySet<string>,
  ): Promise<ReadonlyMap<number, readonly RowProblem[]>> {
    const found = new Map<number, RowProblem[]>();
    const add = (row: number, one: RowProblem): void => {
      found.set(row, [...(found.get(row) ?? []), one]);
    };
    const refused = new Set<number>();
    for (const one of decided.idle)
      if (one.outcome === 'refused') {
        refused.add(one.row);
        add(one.row, one.reason);
      }
    const { mapping } = this.current;
    for (const { row, read } of decided.read) {
      if (!read.ok || refused.has(row)) continue;
      for (const doubt of read.value.doubts) add(row, doubt);
      for (const name of read.value.tags) {
        const why = this.lost(name);
        if (why !== undefined) add(row, problem('doubt', null, `the tag “${name}” ${why}`));
      }
      const stray = strayOwner(read.value, mapping, this.said);
      if (!stray) continue;
      add(row, stray);
      const key = searchKey(read.value.owner);
      const known = this.unknownOwners.get(key);
      if (known) known.rows += 1;
      else if (this.unknownOwners.size < MOST_COUNTED)
        this.unknownOwners.set(key, { name: read.value.owner, rows: 1 });
    }
    for (const { row, hint } of decided.hints) add(row, hint);
    for (const one of await this.perhaps(db, decided, lines)) add(one.row, one.hint);
    for (const row of this.kept(decided, kept)) {
      this.doNotMail += 1;
      add(row, problem('hint', null, STAYS));
    }
    return found;
  }

  /** New people who have the name and the postcode of somebody who is there. */
  private async perhaps(
    db: Db,
    { people, read }: Decided,
    lines: readonly Line[],
  ): Promise<{ readonly row: number; readonly hint: RowProblem }[]> {
    const { viewer, fields } = this.said;
    const fresh = new Set(people.flatMap(({ known, rows }) => (known ? [] : rows.slice(0, 1))));
    const mends = new Map(lines.map(({ row, mend }) => [row, mend]));
    const postcode = fields.get('postcode');
    const asked = read.flatMap(({ row, read: one }) => {
      if (!one.ok || !fresh.has(row) || mends.get(row)?.isSeen) return [];
      const { given_name: given, family_name: family, postcode: code } = one.value.values;
      const isWhole = [given, family, code].every((text) => typeof text === 'string');
      return isWhole && postcode
        ? [
            {
              row,
              name: nameKey({ given: String(given), family: String(family) }),
              postcode: textKey(postcode, String(code)),
            },
          ]
        : [];
    });
    const found = await store.alikePeople(
      db,
      this.current.poolId,
      asked,
      viewer ? scope(viewer) : nobody,
    );
    return found.map(({ row, id, address }) => ({
      row,
      hint: problem(
        'hint',
        null,
        `the name and postcode of somebody here${address ? `, ${address}` : ''}`,
        [{ words: 'it is them', person: id }],
      ),
    }));
  }

  /** First rows of people whose address is on do not mail: of those whom whoever brings the file may see, or anybody for who sees everybody. */
  private kept({ people, read }: Decided, kept: ReadonlySet<string>): readonly number[] {
    const { viewer } = this.said;
    if (!viewer || kept.size === 0) return [];
    const seesAll = seesEverybody(viewer.role);
    const first = new Set(
      people.flatMap(({ known, rows }) =>
        seesAll || (known && known.id > 0) ? rows.slice(0, 1) : [],
      ),
    );
    return read.flatMap(({ row, read: one }) =>
      one.ok && one.value.address && kept.has(one.value.address.key) && first.has(row) ? [row] : [],
    );
  }
}

const STAYS = 'on do not mail, and stays there';

/** That somebody stays on do not mail is told and asks for nothing. */
const isWorthALook = (kind: RowProblem['kind'], own: readonly RowProblem[]): boolean =>
  kind === 'doubt' || own.some((one) => one.kind === 'hint' && one.words !== STAYS);

const filledBy = (target: Target): readonly string[] =>
  target.to === 'field'
    ? [target.field]
    : target.to === 'name'
      ? ['given_name', 'family_name']
      : [];

const shown = (field: Parameters<typeof shownValue>[0], value: FieldValue): string =>
  value === null ? '' : shownValue(field, value);
