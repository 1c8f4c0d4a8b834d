// The work of an import: its rows go in a chunk at a time, each whole or not at all, until the file is through.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import {
  tagColours,
  tagKey,
  type ChangeSetId,
  type Field,
  type TagId,
} from '@palabra/core/contacts';
import {
  countOutcomes,
  cutCells,
  decideRows,
  furtherOf,
  numberOf,
  readRow,
  type DecidedRows,
  type KnownPerson,
  type ImportedRow,
  type ImportId,
  type ReadRow,
} from '@palabra/core/intake';
import { fail, type Clock } from '@palabra/core/kernel';
import {
  addTag,
  allTags,
  finishChangeSet,
  learnAddresses,
  claimsOf,
  holdersOfNumbers,
  lockByAddress,
  PeopleWriter,
  sees,
  standardValues,
  tagsOf,
  valueOf,
  VocabularyService,
  type LockedContact,
} from '../contacts/index.js';
import { Database, type Db } from '../platform/database.js';
import { readFile } from '../platform/files/files.store.js';
import { Jobs } from '../platform/jobs.js';
import { userById } from '../platform/sign-in/sign-in.store.js';
import { Foreground, Stride } from '../platform/stride.js';
import { CLOCK } from '../platform/time.js';
import * as store from './intake.store.js';
import { ImportPlaces, WAS_ERASED } from './personal.js';
import { rowsAbove, rowsOf } from './reading.js';

/** A column of names taken for tags would make thousands. */
const MOST_TAGS_MADE = 100;
/** Rows in one transaction, and how much text at the most: long cells are few people. */
const CHUNK = { first: 200, least: 100, most: 1000, signs: 1_000_000 };

interface Line {
  readonly row: number;
  readonly line: number;
  readonly cells: string[];
}

type Fields = ReadonlyMap<string, Field>;

@Injectable()
export class ImportWork implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly vocabulary: VocabularyService,
    private readonly writer: PeopleWriter,
    private readonly jobs: Jobs,
    private readonly foreground: Foreground,
    private readonly personal: ImportPlaces,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    const { db } = this.database;
    const row = async (id: ImportId): Promise<store.Import | undefined> =>
      (await store.importById(db, id))?.row;
    this.jobs.register<ImportId>('import', {
      run: (id, signal) => this.run(id, signal),
      unfinished: () => store.runningImports(db),
      what: async (id) => `bringing in “${(await row(id))?.fileName ?? 'a list'}”`,
      leave: async (id) => {
        const found = await row(id);
        if (found) await this.end(found, 'cancelled');
      },
    });
  }

  /** The import and its change set end together. False when it was over already. */
  async end({ id, changeSetId }: store.Import, state: 'done' | 'cancelled'): Promise<boolean> {
    const now = this.clock.now();
    const isOver = await this.database.transaction(async (tx) => {
      const moved = await store.moveImport(tx, id, 'running', { state, finishedAt: now });
      if (moved && changeSetId !== null) await finishChangeSet(tx, changeSetId, now);
      return moved;
    });
    if (isOver && state === 'cancelled') await this.forgetErased(id);
    return isOver;
  }

  /** The file is the last place that names people whose rows were refused because they were erased. False when it was stopped. */
  private async forgetErased(
    id: ImportId,
    signal: AbortSignal = new AbortController().signal,
  ): Promise<boolean> {
    if (!(await store.hasReason(this.database.db, id, WAS_ERASED))) return true;
    return this.personal.clean(id, [], signal, 'running');
  }

  /** Goes on from the cursor; each chunk is in with everything that belongs to it, or not at all. */
  private async run(id: ImportId, signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    const begun = (await store.importById(db, id))?.row;
    if (begun?.state !== 'running') return;
    const fields = await this.vocabulary.fields();
    const stride = new Stride(this.foreground, CHUNK.first, CHUNK.least, CHUNK.most);
    let chunk: Line[] = [];
    let weight = 0;
    let row = 0;
    let learnAt = begun.cursor + CHUNK.most;
    const flush = async (): Promise<boolean> => {
      if (row >= learnAt) {
        await learnAddresses(db);
        learnAt = row * 2;
      }
      const going = await stride.step(() => this.takeIn(id, chunk, fields));
      chunk = [];
      weight = 0;
      return going;
    };
    let above = rowsAbove(begun.headerAt);
    for await (const { cells, line } of rowsOf(
      readFile(db, begun.fileId),
      begun.encoding,
      begun.separator,
    )) {
      if (signal.aborted) return;
      if (above > 0) {
        above--;
        continue;
      }
      row++;
      if (row <= begun.cursor) continue;
      chunk.push({ row, line, cells });
      weight += cells.reduce((sum, cell) => sum + cell.length, 0);
      if ((chunk.length >= stride.size || weight >= CHUNK.signs) && !(await flush())) return;
    }
    if (chunk.length > 0 && !(await flush())) return;
    if (!(await this.forgetErased(id, signal))) return;
    await this.end(begun, 'done');
  }

  /** One chunk in one transaction. False when the import was cancelled or somebody else is ahead. */
  private async takeIn(id: ImportId, chunk: readonly Line[], fields: Fields): Promise<boolean> {
    return this.database.transaction(async (tx) => {
      const current = await store.lockImport(tx, id);
      const [first, last] = [chunk[0], chunk.at(-1)];
      if (!current || !first || !last || current.changeSetId === null) return false;
      if (current.state !== 'running' || current.cursor !== first.row - 1) return false;
      const read = chunk.map(({ row, cells }) => ({
        row,
        read: readRow(cells, current.mapping, fields),
      }));
      const keys = new Set(valuesOf(read).flatMap(keysOf));
      const rows = withoutErased(read, await this.personal.erasedKeys(tx, [...keys]));
      const numbers = new Set(valuesOf(rows).flatMap(({ values }) => numberOf(values) ?? []));
      const { named, made, lost } = await this.tagsNamed(tx, current, valuesOf(rows));
      const there = await lockByAddress(tx, current.poolId, [...keys]);
      const decided = decideRows(rows, await this.known(tx, current, there), {
        permission: {
          permission: current.permission,
          at: current.permissionAt?.toISOString() ?? null,
          source: current.permissionSource,
          wording: current.permissionWording,
        },
        standard: standardValues(fields),
        required: [...fields.values()].filter(({ isRequired }) => isRequired),
        numbers: await holdersOfNumbers(tx, current.poolId, [...numbers]),
        tags: current.tagIds,
        named,
      });
      const lines = new Map(chunk.map((line) => [line.row, line]));
      const doubts = doubtsOf(rows, lost);
      const people = (
        await this.write(tx, current, current.changeSetId, decided, there, fields)
      ).map((one): store.ImportRow => {
        const reason = doubts.get(one.row);
        if (reason === undefined) return one;
        const line = lines.get(one.row);
        return { ...one, line: line?.line, reason, cells: cutCells(line?.cells ?? []) };
      });
      const idle = decided.idle.map((one): store.ImportRow => {
        const line = lines.get(one.row);
        const { row, outcome } = one;
        if (outcome === 'elsewhere') return { importId: id, row, outcome, contactId: one.person };
        if (outcome === 'again') return { importId: id, row, outcome };
        // Of who was erased nothing is written down again.
        const cells = one.reason === WAS_ERASED ? null : cutCells(line?.cells ?? []);
        return { importId: id, row, line: line?.line, outcome, reason: one.reason, cells };
      });
      const done = [...idle, ...people];
      await store.addRows(tx, done);
      const changedLater = await store.countAsChanged(
        tx,
        id,
        decided.people.flatMap(({ known, isChangedAfterAll }) =>
          known && isChangedAfterAll ? [known.id] : [],
        ),
      );
      const counts = countOutcomes(done.map(({ outcome }) => outcome));
      const { changed, unchanged } = counts;
      await store.countOutcomes(
        tx,
        id,
        { ...counts, changed: changed + changedLater, unchanged: unchanged - changedLater },
        {
          cursor: last.row,
          doubted: people.filter(({ reason }) => reason !== undefined).length,
          tagsMade: made,
        },
      );
      return true;
    });
  }

  /** The tags that rows name, by their keys: those that are there, and new ones, so few that no wrong column makes thousands. */
  private async tagsNamed(
    tx: Db,
    { tagsMade }: store.Import,
    rows: readonly ImportedRow[],
  ): Promise<{
    readonly named: ReadonlyMap<string, TagId>;
    readonly made: readonly TagId[];
    /** Why some are put on nobody. */
    readonly lost: ReadonlyMap<string, string>;
  }> {
    // As it is written first.
    const asked = new Map<string, string>();
    for (const name of rows.flatMap(({ tags }) => tags))
      if (!asked.has(tagKey(name))) asked.set(tagKey(name), name);
    const named = new Map<string, TagId>();
    const lost = new Map<string, string>();
    const made: TagId[] = [];
    const there = new Map(
      asked.size === 0 ? [] : (await allTags(tx)).map((tag) => [tag.nameKey, tag]),
    );
    for (const [key, name] of asked) {
      const known = there.get(key);
      if (known?.kind === 'office') named.set(key, known.id);
      else if (known) lost.set(key, 'is set by itself, and was not put on');
      else if (tagsMade.length + made.length >= MOST_TAGS_MADE)
        lost.set(key, `was not put on: the file names more than ${MOST_TAGS_MADE} new tags`);
      else {
        const colour = tagColours[(there.size + made.length) % tagColours.length] ?? 'slate';
        const tag = await addTag(tx, { name, colour }, this.clock.now());
        if (!tag) continue;
        named.set(key, tag.id);
        made.push(tag.id);
      }
    }
    return { named, made, lost };
  }

  /** Whoever has an address of the chunk already, as the decision sees them. */
  private async known(
    tx: Db,
    current: store.Import,
    there: readonly LockedContact[],
  ): Promise<Map<string, KnownPerson>> {
    const importer = there.length === 0 ? undefined : await userById(tx, current.userId);
    const viewer = importer && { userId: importer.id, role: importer.role };
    const earlier = await store.outcomesSoFar(
      tx,
      current.id,
      there.map(({ id }) => id),
    );
    const tags = await tagsOf(
      tx,
      there.map(({ id }) => id),
    );
    return new Map(
      there.flatMap((row) => {
        const person: KnownPerson = {
          id: row.id,
          permission: row.permission,
          isElsewhere: !viewer || !sees(viewer, row),
          earlier: earlier.get(row.id),
          value: (field) => valueOf(row, field),
          hasTag: (tag) => tags.get(row.id)?.includes(tag) === true,
        };
        return claimsOf(row).addressKeys.map((key) => [key, person] as const);
      }),
    );
  }

  /** Writes the people of a chunk; returns what their rows did. */
  private async write(
    tx: Db,
    { id: importId, poolId, ownerId }: store.Import,
    set: ChangeSetId,
    { people }: DecidedRows,
    there: readonly LockedContact[],
    fields: Fields,
  ): Promise<store.ImportRow[]> {
    const rowsById = new Map(there.map((row) => [row.id, row]));
    const writing = this.writer.goOn(tx, set, fields);
    const fresh = people.filter(({ known }) => !known);
    const added = await writing.add(
      fresh.map(({ values, tags }) => ({ values, poolId, ownerId, tags })),
    );
    const ids = new Map(fresh.map((person, at) => [person, added[at]]));
    await writing.change(
      people.flatMap(({ known, values, tags }) => {
        const row = known && rowsById.get(known.id);
        return row ? [{ row, values, put: tags }] : [];
      }),
    );
    return people.flatMap((person) =>
      person.rows.map((row, at): store.ImportRow => ({
        importId,
        row,
        outcome: at === 0 ? person.outcome : 'again',
        contactId: person.known?.id ?? ids.get(person),
      })),
    );
  }
}

const valuesOf = (rows: readonly ReadRow[]): ImportedRow[] =>
  rows.flatMap(({ read }) => (read.ok ? [read.value] : []));

/** The addresses of a row, by their keys. */
const keysOf = ({ address, values }: ImportedRow): string[] => [
  address.key,
  ...furtherOf(values).map(([key]) => key),
];

/** Rows that name an address whose owner asked to be erased are refused. */
const withoutErased = (rows: readonly ReadRow[], erased: ReadonlySet<string>): ReadRow[] =>
  rows.map((one) =>
    one.read.ok && keysOf(one.read.value).some((key) => erased.has(key))
      ? { row: one.row, read: fail(WAS_ERASED) }
      : one,
  );

/** What of each row can't be read, in one text; those cells say nothing. */
const doubtsOf = (
  rows: readonly ReadRow[],
  lost: ReadonlyMap<string, string>,
): ReadonlyMap<number, string> =>
  new Map(
    rows.flatMap(({ row, read }): [number, string][] => {
      if (!read.ok) return [];
      const { doubts, tags } = read.value;
      const left = tags.flatMap((name) => {
        const why = lost.get(tagKey(name));
        return why === undefined ? [] : [`the tag “${name}” ${why}`];
      });
      return doubts.length + left.length === 0 ? [] : [[row, [...doubts, ...left].join('; ')]];
    }),
  );
