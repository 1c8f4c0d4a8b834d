// Imports: a file is read, its columns are matched, its rows go in a chunk at a time and can be taken back.
import { createHash } from 'node:crypto';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type {
  PlanRequest,
  ReadingRequest,
  StartImportRequest,
  TakingBackReply,
} from '@palabra/contract/intake';
import { shortLine, type ChangeSetId, type Field } from '@palabra/core/contacts';
import {
  knownColumns,
  mappingFrom,
  mended,
  recogniseColumns,
  shapeText,
  WRONG_COLUMN,
  type ImportId,
  type Mend,
  type Target,
} from '@palabra/core/intake';
import type { Clock } from '@palabra/core/kernel';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import type { SQL } from 'drizzle-orm';
import {
  allFields,
  allOf,
  changedSince,
  ChangesService,
  countLiving,
  hadToDoWithSince,
  housePool,
  madeBy,
  notIn,
  openChangeSet,
  PeopleSets,
  scope,
  Ties,
  VocabularyService,
} from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { readFile, saveFile } from '../platform/files/files.store.js';
import { Jobs } from '../platform/jobs.js';
import { notFound } from '../platform/refusals.js';
import { CLOCK } from '../platform/time.js';
import { inTurn } from '../platform/upload.js';
import { Upkeep } from '../platform/upkeep.js';
import { ImportFiles } from './files.js';
import { ImportWork } from './import-work.js';
import { importable } from './importable.js';
import { refuse } from './intake.refusals.js';
import * as store from './intake.store.js';
import * as looks from './look.store.js';
import { checkStart, keptPlan, planOf } from './plans.js';
import { rowsAbove, shapeOf, type Shape } from './reading.js';
import { Tables } from './tables.js';

/** A file that was never brought in. */
const KEPT_MS = 30 * 24 * 3600 * 1000;
const THROWN_MS = 24 * 3600 * 1000;
/** How many reasons are fetched at a time. */
const REFUSALS = 1000;

@Injectable()
export class IntakeService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly work: ImportWork,
    private readonly files: ImportFiles,
    private readonly tables: Tables,
    private readonly upkeep: Upkeep,
    private readonly vocabulary: VocabularyService,
    private readonly changes: ChangesService,
    private readonly sets: PeopleSets,
    private readonly ties: Ties,
    private readonly jobs: Jobs,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.upkeep.register(() => this.forgetOld());
    this.sets.register<ImportId>('import', 'of whoever asks', async ({ id, part }, viewer) => {
      const found = (
        await store.importById(
          this.database.db,
          id,
          seesEverybody(viewer.role) ? undefined : viewer.userId,
        )
      )?.row;
      if (!found) return undefined;
      if (isTakingBack(part) && found.changeSetId !== null)
        return {
          title: `${takingBackWords[part]} “${found.fileName}”`,
          among: this.takingBackOf(id, found.changeSetId)[part],
        };
      if (part === '')
        return {
          title: `in “${found.fileName}”`,
          among: store.allImportedPeople(id),
          isRecord: true,
        };
      if (part === 'elsewhere' && seesEverybody(viewer.role))
        return {
          title: `of others, left as they are by “${found.fileName}”`,
          among: store.importedPeople(id, part),
          isRecord: true,
        };
      if (part !== 'new' && part !== 'changed' && part !== 'unchanged') return undefined;
      return {
        title: `${part} by “${found.fileName}”`,
        among: store.importedPeople(id, part),
        isRecord: true,
      };
    });
  }

  /** An import that the asker may know of: members see what they brought themselves. */
  async import(id: ImportId, viewer: Viewer): Promise<store.ImportLine> {
    const found = await store.importById(
      this.database.db,
      id,
      seesEverybody(viewer.role) ? undefined : viewer.userId,
    );
    if (!found || found.row.state === 'thrown away') throw notFound('import');
    return found;
  }

  imports(limit: number, viewer: Viewer): Promise<store.ImportLine[]> {
    return store.lastImports(
      this.database.db,
      limit,
      seesEverybody(viewer.role) ? undefined : viewer.userId,
    );
  }

  async upload(pieces: readonly Buffer[], fileName: string, viewer: Viewer): Promise<ImportId> {
    const { db } = this.database;
    const now = this.clock.now();
    const table = await this.tables.read(pieces);
    const { kind, encoding, separator, guesses, sheets, sheetAt } = table;
    const fields = importable(await allFields(db));
    const shape = await shapeOf(
      inTurn(table.pieces),
      encoding,
      separator,
      fields,
      kind === 'cards' ? 0 : undefined,
      kind,
    );
    const original =
      table.pieces === pieces
        ? undefined
        : await saveFile(db, 'application/octet-stream', pieces, now);
    const file = await saveFile(db, 'text/csv', table.pieces, now);
    const house = await housePool(db);
    const values = {
      state: 'uploaded',
      kind,
      fileId: file.id,
      originalId: original?.id,
      sheets,
      sheetAt,
      fileName: shortLine(fileName, 120) || 'a list',
      encoding,
      guesses,
      separator,
      ...shape,
      ...(await this.mappingOf(shape, fields, viewer)),
      poolId: house.id,
      ownerId: viewer.userId,
      userId: viewer.userId,
      createdAt: now,
    } as const;
    let id: ImportId;
    try {
      id = await store.addImport(db, values);
    } catch (error) {
      // What is in no list is in no place where erasing looks.
      await store.dropUnused(db, [file.id, original?.id ?? null]);
      throw error;
    }
    await this.jobs.nudge('looking', id);
    return id;
  }

  /** As a file of its shape was read before, or as its columns look. */
  private async mappingOf(
    { headers, sample }: Pick<Shape, 'headers' | 'sample'>,
    fields: readonly Field[],
    viewer: Viewer,
  ): Promise<{ readonly mapping: Target[]; readonly knownSince: Date | null }> {
    // Whom a member brings in, they look after themselves.
    const open = (targets: Target[]): Target[] =>
      seesEverybody(viewer.role)
        ? targets
        : targets.map((target) => (target.to === 'owner' ? { to: 'nothing' } : target));
    const key = shapeKey(headers);
    const known = key === undefined ? undefined : await store.shapeOfKey(this.database.db, key);
    return known
      ? {
          mapping: open(
            mappingFrom(headers, known.columns, (field) => fields.some((one) => one.key === field)),
          ),
          knownSince: known.usedAt,
        }
      : { mapping: open(recogniseColumns(headers, fields, sample)), knownSince: null };
  }

  /** Reads the same file again with another encoding, separator, header or sheet. What was mended stays where the rows stay. */
  async readAgain(
    id: ImportId,
    { encoding, separator, headerAt, sheetAt }: ReadingRequest,
    viewer: Viewer,
  ): Promise<void> {
    const { db } = this.database;
    const found = (await this.import(id, viewer)).row;
    const fields = importable(await allFields(db));
    const sheet =
      sheetAt === undefined || sheetAt === found.sheetAt
        ? undefined
        : await this.otherSheet(found, sheetAt);
    const reading = {
      encoding: found.kind === 'text' ? encoding : found.encoding,
      separator: found.kind === 'text' ? separator : found.separator,
      fileId: sheet?.fileId ?? found.fileId,
      sheetAt: sheet ? (sheetAt ?? 0) : found.sheetAt,
    };
    const shape = await shapeOf(
      readFile(db, reading.fileId),
      reading.encoding,
      reading.separator,
      fields,
      sheet ? undefined : headerAt,
      found.kind,
    );
    const staysPut =
      !sheet && shape.headerAt === found.headerAt && reading.separator === found.separator;
    const guessed = (await this.mappingOf(found, fields, viewer)).mapping;
    const isSaid = JSON.stringify(found.mapping) !== JSON.stringify(guessed);
    // Other signs in the same cells: what somebody said of the columns holds.
    const mapping =
      staysPut && isSaid && shape.headers.length === found.headers.length
        ? {}
        : await this.mappingOf(shape, fields, viewer);
    const isRead = await this.database.transaction(async (tx) => {
      const moved = await store.saidOf(tx, id, { ...reading, ...shape, ...mapping });
      if (!moved) return false;
      if (!staysPut) await looks.dropMends(tx, id);
      if (sheet) await store.dropUnused(tx, [found.fileId]);
      await this.jobs.nudge('looking', id, tx);
      return true;
    });
    if (isRead) return;
    if (sheet) await store.dropUnused(db, [sheet.fileId]);
    throw refuse('begun-already');
  }

  private async otherSheet(
    { originalId, sheets }: store.Import,
    sheetAt: number,
  ): Promise<{ readonly fileId: string }> {
    if (originalId === null) throw refuse('no-original');
    if (sheetAt >= sheets.length) throw refuse('no-sheet');
    const { db } = this.database;
    const pieces: Buffer[] = [];
    for await (const piece of readFile(db, originalId)) pieces.push(piece);
    const table = await this.tables.sheet(pieces, sheetAt);
    return { fileId: (await saveFile(db, 'text/csv', table.pieces, this.clock.now())).id };
  }

  /** Throws a file away that was never brought in; for a day it comes back with all that was said of it. */
  async drop(id: ImportId, viewer: Viewer): Promise<void> {
    await this.import(id, viewer);
    const thrown = { state: 'thrown away', finishedAt: this.clock.now() } as const;
    if (!(await store.moveImport(this.database.db, id, 'uploaded', thrown)))
      throw refuse('begun-already');
  }

  async restore(id: ImportId, viewer: Viewer): Promise<void> {
    const { db } = this.database;
    const found = await store.importById(
      db,
      id,
      seesEverybody(viewer.role) ? undefined : viewer.userId,
    );
    const back = { state: 'uploaded', finishedAt: null } as const;
    if (!found || !(await store.moveImport(db, id, 'thrown away', back))) throw notFound('import');
    await this.jobs.nudge('looking', id);
  }

  private forget(id: ImportId): Promise<boolean> {
    return this.database.transaction(async (tx) => {
      const gone = await store.dropImport(tx, id);
      if (!gone) return false;
      await looks.dropLooks(tx, id);
      await looks.dropMends(tx, id);
      await store.dropUnused(tx, [gone.fileId, gone.originalId]);
      return true;
    });
  }

  /** A file that nobody brought in for so long is forgotten; people's data is not kept for nothing. */
  private async forgetOld(): Promise<boolean> {
    const ago = (ms: number): Date => new Date(this.clock.now().getTime() - ms);
    const before = { came: ago(KEPT_MS), thrown: ago(THROWN_MS) };
    const [id] = await store.forgottenImports(this.database.db, before);
    return id !== undefined && this.forget(id);
  }

  /** Rows with something wrong as they stand in the file, mended where they were, with the reason behind the columns of the header. */
  async *refusedLines(found: store.Import): AsyncGenerator<string[]> {
    const { db } = this.database;
    const { id, headerAt, headers } = found;
    let page = await store.reasons(db, id, 0, REFUSALS);
    let mends = await this.mendsOf(id, page);
    let next = 0;
    const width = headers.length;
    // Counted as the rows of the table are: the header is row 0.
    let row = -rowsAbove(headerAt);
    for await (const { cells } of this.files.rows(found)) {
      row++;
      if (row === 0)
        yield [...Array.from({ length: width }, (_, at): string => cells[at] ?? ''), WRONG_COLUMN];
      const refused = page[next];
      if (!refused) return;
      if (row !== refused.row) continue;
      const mend = mends.get(row);
      const own = mend ? mended(cells, mend) : cells;
      yield [
        ...Array.from({ length: width }, (_, at): string => own[at] ?? ''),
        refused.reason,
        ...own.slice(width),
      ];
      if (++next < page.length) continue;
      page = await store.reasons(db, id, row, REFUSALS);
      mends = await this.mendsOf(id, page);
      next = 0;
    }
  }

  private mendsOf(id: ImportId, page: readonly store.Refusal[]): Promise<Map<number, Mend>> {
    return looks.mendsBetween(this.database.db, id, page[0]?.row ?? 0, page.at(-1)?.row ?? 0);
  }

  /** Begins from what was said last, as the asker saw it. */
  async start(id: ImportId, { version }: StartImportRequest, viewer: Viewer): Promise<void> {
    const found = (await this.import(id, viewer)).row;
    if (found.state !== 'uploaded') throw refuse('begun-already');
    if (found.planVersion !== version) throw refuse('plan-changed');
    const request = { version, ...planOf(found) } as PlanRequest;
    // Fields, tags and colleagues may have gone since it was said.
    const fields = await this.vocabulary.fields();
    await keptPlan(this.database.db, request, found, fields, viewer);
    checkStart(found);
    const now = this.clock.now();
    await this.database.transaction(async (tx) => {
      const changeSetId = await openChangeSet(tx, {
        kind: 'import',
        userId: viewer.userId,
        at: now,
        what: `imported “${found.fileName}”`,
        isOpen: true,
      });
      const begun = await store.begin(tx, id, version, {
        permissionAt: found.permission === 'unknown' ? null : now,
        changeSetId,
        startedAt: now,
      });
      if (!begun) throw refuse('begun-already');
      const shape = shapeKey(found.headers);
      if (shape !== undefined)
        await store.keepShape(tx, shape, knownColumns(found.headers, found.mapping), now);
      await this.jobs.nudge('import', id, tx);
    });
  }

  async cancel(id: ImportId, viewer: Viewer): Promise<void> {
    const { row } = await this.import(id, viewer);
    if (!(await this.work.end(row, 'cancelled'))) throw refuse('not-running');
  }

  /** Whom taking an import back would delete, who would stay although they came in by it, and whom it would change back. */
  private takingBackOf(
    id: ImportId,
    changeSetId: ChangeSetId,
  ): Record<keyof typeof takingBackWords, SQL> {
    const since = hadToDoWithSince(changeSetId, this.ties.holding);
    return {
      'would-go': allOf(madeBy(changeSetId), notIn(since)),
      'would-stay': allOf(madeBy(changeSetId), since),
      'changed-since': allOf(store.importedPeople(id, 'changed'), changedSince(changeSetId)),
    };
  }

  async takingBack(id: ImportId, viewer: Viewer): Promise<TakingBackReply> {
    const { row } = await this.import(id, viewer);
    if (row.changeSetId === null) return { go: 0, stay: 0, changed: 0, changedSince: 0 };
    const sets = this.takingBackOf(id, row.changeSetId);
    const count = (people: SQL): Promise<number> =>
      countLiving(this.database.db, allOf(scope(viewer), people));
    return {
      go: await count(sets['would-go']),
      stay: await count(sets['would-stay']),
      changed: await count(store.importedPeople(id, 'changed')),
      changedSince: await count(sets['changed-since']),
    };
  }

  /** Takes a finished or cancelled import back; what was changed since is left alone. */
  async takeBack(id: ImportId, viewer: Viewer): Promise<void> {
    const { row } = await this.import(id, viewer);
    if (row.changeSetId === null) throw refuse('not-finished');
    await this.changes.undo(row.changeSetId, viewer);
  }
}

/** What would become of people if an import was taken back now. */
const takingBackWords = {
  'would-go': 'would go with',
  'would-stay': 'would stay, because somebody has had to do with them since:',
  'changed-since': 'were changed again since they were changed by',
} as const;
const isTakingBack = (part: string): part is keyof typeof takingBackWords =>
  Object.hasOwn(takingBackWords, part);

/** Long headers make a long text. */
function shapeKey(headers: readonly string[]): string | undefined {
  const text = shapeText(headers);
  return text === undefined ? undefined : createHash('sha256').update(text).digest('hex');
}
