// The work of an import: its rows go in a chunk at a time, each whole or not at all, until the file is through.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { tagColours, tagKey, type ChangeSetId, type TagId } from '@palabra/core/contacts';
import {
  countOutcomes,
  cutCells,
  mended,
  reasonOf,
  type ImportedRow,
  type ImportId,
  type ReadRow,
  type RowProblem,
} from '@palabra/core/intake';
import type { Clock } from '@palabra/core/kernel';
import { seesEverybody, type UserId } from '@palabra/core/office';
import {
  mayLearnOf,
  addTag,
  allTags,
  finishChangeSet,
  learnAddresses,
  PeopleWriter,
  VocabularyService,
} from '../contacts/index.js';
import { Database, type Db } from '../platform/database.js';
import { Jobs } from '../platform/jobs.js';
import { Foreground, Stride } from '../platform/stride.js';
import { CLOCK } from '../platform/time.js';
import {
  Deciding,
  MOST_TAGS_MADE,
  SET_BY_ITSELF,
  strayOwner,
  tagsAsked,
  TOO_MANY_TAGS,
  valuesOf,
  type Decided,
  type Said,
} from './deciding.js';
import { ImportFiles, type Line } from './files.js';
import * as store from './intake.store.js';
import { dropLooks } from './look.store.js';
import { ImportPlaces, WAS_ERASED } from './personal.js';

/** Rows in one transaction, and how much text at the most: long cells are few people. */
const CHUNK = { first: 200, least: 100, most: 1000, signs: 1_000_000 };

@Injectable()
export class ImportWork implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly vocabulary: VocabularyService,
    private readonly deciding: Deciding,
    private readonly files: ImportFiles,
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
  async end(
    { id, changeSetId }: store.Import,
    state: 'done' | 'cancelled',
    stoppedBy: store.Import['stoppedBy'] = null,
  ): Promise<boolean> {
    const now = this.clock.now();
    const isOver = await this.database.transaction(async (tx) => {
      const moved = await store.moveImport(tx, id, 'running', {
        state,
        stoppedBy,
        finishedAt: now,
      });
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
    // What would happen is what happens now.
    await dropLooks(db, id);
    const said = await this.deciding.said(db, begun, await this.vocabulary.fields());
    const stride = new Stride(this.foreground, CHUNK.first, CHUNK.least, CHUNK.most);
    let learnAt = begun.cursor + CHUNK.most;
    for await (const lines of this.files.chunks(
      begun,
      begun.cursor,
      () => stride.size,
      CHUNK.signs,
    )) {
      if (signal.aborted) return;
      const row = lines.at(-1)?.row ?? 0;
      if (row >= learnAt) {
        await learnAddresses(db);
        learnAt = row * 2;
      }
      try {
        if (!(await stride.step(() => this.takeIn(id, lines, said)))) return;
      } catch (error) {
        if (!(error instanceof TooManyHidden)) throw error;
        // The transaction took the count of it back, too.
        await mayLearnOf(db, error.member, this.clock.now(), error.count);
        await this.end(begun, 'cancelled', 'people of colleagues');
        return;
      }
    }
    if (!(await this.forgetErased(id, signal))) return;
    await this.end(begun, 'done');
  }

  /** One chunk in one transaction. False when the import was cancelled or somebody else is ahead. */
  private async takeIn(id: ImportId, chunk: readonly Line[], said: Said): Promise<boolean> {
    return this.database.transaction(async (tx) => {
      const current = await store.lockImport(tx, id);
      const [first, last] = [chunk[0], chunk.at(-1)];
      if (!current || !first || !last || current.changeSetId === null) return false;
      if (current.state !== 'running' || current.cursor !== first.row - 1) return false;
      const staying = chunk.filter(({ mend }) => !mend?.isOut);
      const { read } = await this.deciding.read(tx, current, staying, said);
      const { named, made, lost } = await this.tagsNamed(tx, current, valuesOf(read));
      const decided = await this.deciding.decide(tx, current, read, said, {
        lock: true,
        lines: staying,
        named,
        earlier: (ids) => store.outcomesSoFar(tx, id, ids),
      });
      await this.meet(tx, said, decided);
      const lines = new Map(chunk.map((line) => [line.row, line]));
      const cellsOf = (row: number): string[] => {
        const line = lines.get(row);
        return cutCells(line?.mend ? mended(line.cells, line.mend) : (line?.cells ?? []));
      };
      const doubts = doubtsOf(read, lost, (one) => strayOwner(one, current.mapping, said));
      const people = (await this.write(tx, current, current.changeSetId, decided, said)).map(
        (one): store.ImportRow => {
          const reason = doubts.get(one.row);
          return reason === undefined
            ? one
            : { ...one, line: lines.get(one.row)?.line, reason, cells: cellsOf(one.row) };
        },
      );
      const idle = decided.idle.map((one): store.ImportRow => {
        const { row, outcome } = one;
        if (outcome === 'elsewhere') return { importId: id, row, outcome, contactId: one.person };
        if (outcome === 'again') return { importId: id, row, outcome };
        const reason = reasonOf([one.reason]);
        // Of who was erased nothing is written down again.
        const cells = reason === WAS_ERASED ? null : cellsOf(row);
        return { importId: id, row, line: lines.get(row)?.line, outcome, reason, cells };
      });
      const out = chunk.flatMap(({ row, mend }): store.ImportRow[] =>
        mend?.isOut ? [{ importId: id, row, outcome: 'out' }] : [],
      );
      const done = [...idle, ...people, ...out];
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

  /** A member may meet so many people of colleagues in a day; a list with more of them is not brought in any further. */
  private async meet(tx: Db, { viewer }: Said, { idle }: Decided): Promise<void> {
    const count = idle.filter(({ outcome }) => outcome === 'elsewhere').length;
    if (count === 0 || !viewer || seesEverybody(viewer.role)) return;
    if (!(await mayLearnOf(tx, viewer.userId, this.clock.now(), count)))
      throw new TooManyHidden(viewer.userId, count);
  }

  /** The tags that rows name, by their keys: those that are there, and new ones, so few that no wrong column makes thousands. */
  private async tagsNamed(
    tx: Db,
    { tagsMade, tagsMeant }: store.Import,
    rows: readonly ImportedRow[],
  ): Promise<{
    readonly named: ReadonlyMap<string, TagId>;
    readonly made: readonly TagId[];
    /** Why some are put on nobody. */
    readonly lost: ReadonlyMap<string, string>;
  }> {
    const asked = tagsAsked(rows);
    const named = new Map<string, TagId>();
    const lost = new Map<string, string>();
    const made: TagId[] = [];
    const all = asked.size === 0 ? [] : await allTags(tx);
    const there = new Map(all.map((tag) => [tag.nameKey, tag]));
    const meant = new Map(tagsMeant.map(({ name, tag }) => [tagKey(name), tag]));
    for (const [key, name] of asked) {
      const said = meant.get(key);
      if (said === null) continue;
      const known =
        said === undefined
          ? there.get(key)
          : all.find(({ id, kind }) => id === said && kind === 'office');
      if (known?.kind === 'office') named.set(key, known.id);
      else if (known) lost.set(key, SET_BY_ITSELF);
      else if (tagsMade.length + made.length >= MOST_TAGS_MADE) lost.set(key, TOO_MANY_TAGS);
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

  /** Writes the people of a chunk; returns what their rows did. */
  private async write(
    tx: Db,
    { id: importId, poolId, ownerId }: store.Import,
    set: ChangeSetId,
    { people, there }: Decided,
    { fields }: Said,
  ): Promise<store.ImportRow[]> {
    const writing = this.writer.goOn(tx, set, fields);
    const fresh = people.filter(({ known }) => !known);
    const added = await writing.add(
      fresh.map(({ values, tags, owner }) => ({ values, poolId, ownerId: owner ?? ownerId, tags })),
    );
    const ids = new Map(fresh.map((person, at) => [person, added[at]]));
    await writing.change(
      people.flatMap(({ known, values, tags }) => {
        const row = known && there.get(known.id);
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

/** What of each row can't be read, in one text; those cells say nothing. */
const doubtsOf = (
  rows: readonly ReadRow[],
  lost: ReadonlyMap<string, string>,
  stray: (row: ImportedRow) => RowProblem | undefined,
): ReadonlyMap<number, string> =>
  new Map(
    rows.flatMap(({ row, read }): [number, string][] => {
      if (!read.ok) return [];
      const { tags } = read.value;
      const doubts = [
        ...read.value.doubts,
        ...[stray(read.value)].filter((one) => one !== undefined),
      ];
      const left = tags.flatMap((name) => {
        const why = lost.get(tagKey(name));
        return why === undefined ? [] : [`the tag “${name}” ${why}`];
      });
      return doubts.length + left.length === 0
        ? []
        : [[row, [...doubts.map(({ words }) => words), ...left].join('; ')]];
    }),
  );

class TooManyHidden extends Error {
  constructor(
    readonly member: UserId,
    readonly count: number,
  ) {
    super('more people of colleagues than one may meet in a day');
  }
}
