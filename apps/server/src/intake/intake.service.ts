// Imports: a file is read, its columns are matched, its rows go in a chunk at a time and can be taken back.
import { createHash } from 'node:crypto';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { ReadingRequest, StartImportRequest, TakingBackReply } from '@palabra/contract/intake';
import {
  manyLines,
  oneLine,
  type ChangeSetId,
  type Field,
  type TagId,
} from '@palabra/core/contacts';
import {
  knownColumns,
  mappingFrom,
  recogniseColumns,
  shapeText,
  WRONG_COLUMN,
  type ImportId,
  type Target,
} from '@palabra/core/intake';
import { idOf, type Clock } from '@palabra/core/kernel';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import type { SQL } from 'drizzle-orm';
import {
  allFields,
  allOf,
  allTags,
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
import { ImportWork } from './import-work.js';
import { importable } from './importable.js';
import { refuse } from './intake.refusals.js';
import * as store from './intake.store.js';
import {
  guessEncodings,
  refuseBinary,
  rowsAbove,
  rowsOf,
  separatorOf,
  shapeOf,
  type Shape,
} from './reading.js';

export const IMPORT_BYTES = 200 * 1024 * 1024;
/** How many reasons are fetched at a time. */
const REFUSALS = 1000;

@Injectable()
export class IntakeService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly work: ImportWork,
    private readonly vocabulary: VocabularyService,
    private readonly changes: ChangesService,
    private readonly sets: PeopleSets,
    private readonly ties: Ties,
    private readonly jobs: Jobs,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.sets.register<ImportId>('import', 'of whoever asks', async ({ id, part }, viewer) => {
      const found = (
        await store.importById(
          this.database.db,
          id,
          seesEverybody(viewer.role) ? undefined : viewer.userId,
        )
      )?.row;
      if (!found) return undefined;
      if ((part === 'would-go' || part === 'would-stay') && found.changeSetId !== null) {
        const title =
          part === 'would-go'
            ? 'would go with'
            : 'would stay, because somebody has had to do with them since';
        return {
          title: `${title} “${found.fileName}”`,
          among: this.takingBackOf(found.changeSetId)[part],
        };
      }
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
    if (!found) throw notFound('import');
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
    const guesses = await guessEncodings(pieces);
    const encoding = guesses[0]?.encoding ?? 'utf-8';
    refuseBinary(pieces, encoding);
    const separator = separatorOf(pieces, encoding);
    const fields = await allFields(db);
    const shape = await shapeOf(inTurn(pieces), encoding, separator, importable(fields));
    const file = await saveFile(db, 'text/csv', pieces, now);
    const house = await housePool(db);
    return store.addImport(db, {
      state: 'uploaded',
      fileId: file.id,
      fileName: oneLine(fileName).slice(0, 120) || 'a list',
      encoding,
      guesses,
      separator,
      ...shape,
      ...(await this.mappingOf(shape, importable(fields))),
      poolId: house.id,
      ownerId: viewer.userId,
      userId: viewer.userId,
      createdAt: now,
    });
  }

  /** As a file of its shape was read before, or as its columns look. */
  private async mappingOf(
    { headers, sample }: Pick<Shape, 'headers' | 'sample'>,
    fields: readonly Field[],
  ): Promise<{ readonly mapping: Target[]; readonly knownSince: Date | null }> {
    const key = shapeKey(headers);
    const known = key === undefined ? undefined : await store.shapeOfKey(this.database.db, key);
    return known
      ? {
          mapping: mappingFrom(headers, known.columns, (field) =>
            fields.some((one) => one.key === field),
          ),
          knownSince: known.usedAt,
        }
      : { mapping: recogniseColumns(headers, fields, sample), knownSince: null };
  }

  /** Reads the same file again with another encoding, separator or header. */
  async readAgain(
    id: ImportId,
    { encoding, separator, headerAt }: ReadingRequest,
    viewer: Viewer,
  ): Promise<void> {
    const { db } = this.database;
    const { fileId } = (await this.import(id, viewer)).row;
    const fields = importable(await allFields(db));
    const shape = await shapeOf(readFile(db, fileId), encoding, separator, fields, headerAt);
    const mapping = await this.mappingOf(shape, fields);
    if (
      !(await store.moveImport(db, id, 'uploaded', { encoding, separator, ...shape, ...mapping }))
    )
      throw refuse('begun-already');
  }

  /** Rows with something wrong as they stand in the file, with the reason behind the columns of the header. */
  async *refusedLines({
    id,
    fileId,
    encoding,
    separator,
    headerAt,
    headers,
  }: store.Import): AsyncGenerator<string[]> {
    const { db } = this.database;
    let page = await store.reasons(db, id, 0, REFUSALS);
    let next = 0;
    const width = headers.length;
    // Counted as the rows of the table are: the header is row 0.
    let row = -rowsAbove(headerAt);
    for await (const { cells } of rowsOf(readFile(db, fileId), encoding, separator)) {
      row++;
      if (row === 0)
        yield [...Array.from({ length: width }, (_, at): string => cells[at] ?? ''), WRONG_COLUMN];
      const refused = page[next];
      if (!refused) return;
      if (row !== refused.row) continue;
      yield [
        ...Array.from({ length: width }, (_, at): string => cells[at] ?? ''),
        refused.reason,
        ...cells.slice(width),
      ];
      if (++next < page.length) continue;
      page = await store.reasons(db, id, row, REFUSALS);
      next = 0;
    }
  }

  async start(id: ImportId, request: StartImportRequest, viewer: Viewer): Promise<void> {
    const { db } = this.database;
    const found = (await this.import(id, viewer)).row;
    const fields = await this.vocabulary.fields();
    const { mapping } = request;
    if (mapping.length !== found.headers.length)
      throw refuse('other-columns', found.headers.length, mapping.length);
    const targets = mapping.flatMap((target) => (target.to === 'field' ? [target.field] : []));
    const unknown = targets.find(
      (field) => !importable([...fields.values()]).some(({ key }) => key === field),
    );
    if (unknown) throw refuse('no-such-field');
    const twice = targets.find((field, at) => targets.indexOf(field) !== at);
    if (twice) throw refuse('field-twice', fields.get(twice)?.label ?? twice);
    if (!targets.includes('address')) throw refuse('no-address-column');
    const source = oneLine(request.source);
    if (request.permission !== 'unknown' && source === '')
      throw refuse('no-source').about('source', 'Say where and how these people agreed.');
    const tags = await allTags(db);
    if (
      request.tagIds.some(
        (tag) => !tags.some((known) => known.id === tag && known.kind === 'office'),
      )
    )
      throw refuse('no-such-tag');
    const now = this.clock.now();
    await this.database.transaction(async (tx) => {
      const changeSetId = await openChangeSet(tx, {
        kind: 'import',
        userId: viewer.userId,
        at: now,
        what: `imported “${found.fileName}”`,
        isOpen: true,
      });
      const begun = await store.moveImport(tx, id, 'uploaded', {
        state: 'running',
        mapping,
        permission: request.permission,
        permissionSource: source,
        permissionWording: manyLines(request.wording ?? ''),
        permissionAt: request.permission === 'unknown' ? null : now,
        tagIds: [...new Set(request.tagIds)].map(idOf<TagId>),
        changeSetId,
        startedAt: now,
      });
      if (!begun) throw refuse('begun-already');
      const shape = shapeKey(found.headers);
      if (shape !== undefined)
        await store.keepShape(tx, shape, knownColumns(found.headers, mapping), now);
      await this.jobs.nudge('import', id, tx);
    });
  }

  async cancel(id: ImportId, viewer: Viewer): Promise<void> {
    const { row } = await this.import(id, viewer);
    if (!(await this.work.end(row, 'cancelled'))) throw refuse('not-running');
  }

  /** Whom taking an import back would delete, who would stay although they came in by it, and whom it would change back. */
  private takingBackOf(changeSetId: ChangeSetId): Record<'would-go' | 'would-stay', SQL> {
    const since = hadToDoWithSince(changeSetId, this.ties.holding);
    return {
      'would-go': allOf(madeBy(changeSetId), notIn(since)),
      'would-stay': allOf(madeBy(changeSetId), since),
    };
  }

  async takingBack(id: ImportId, viewer: Viewer): Promise<TakingBackReply> {
    const { row } = await this.import(id, viewer);
    if (row.changeSetId === null) return { go: 0, stay: 0, changed: 0 };
    const sets = this.takingBackOf(row.changeSetId);
    const count = (people: SQL): Promise<number> =>
      countLiving(this.database.db, allOf(scope(viewer), people));
    return {
      go: await count(sets['would-go']),
      stay: await count(sets['would-stay']),
      changed: await count(store.importedPeople(id, 'changed')),
    };
  }

  /** Takes a finished or cancelled import back; what was changed since is left alone. */
  async takeBack(id: ImportId, viewer: Viewer): Promise<void> {
    const { row } = await this.import(id, viewer);
    if (row.changeSetId === null) throw refuse('not-finished');
    await this.changes.undo(row.changeSetId, viewer);
  }
}

/** Long headers make a long text. */
function shapeKey(headers: readonly string[]): string | undefined {
  const text = shapeText(headers);
  return text === undefined ? undefined : createHash('sha256').update(text).digest('hex');
}
