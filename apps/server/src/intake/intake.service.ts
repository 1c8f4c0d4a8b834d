// Imports: a file is read, its columns are matched, its rows go in a chunk at a time and can be taken back.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { ReadingRequest, StartImportRequest, TakingBackReply } from '@palabra/contract/intake';
import { oneLine, type Field } from '@palabra/core/contacts';
import {
  cutCells,
  raisesPermission,
  readRow,
  recogniseColumns,
  type ImportedRow,
  type RowOutcome,
} from '@palabra/core/intake';
import type { Clock } from '@palabra/core/kernel';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import {
  ChangesService,
  changeStore,
  contactStore,
  ContactsService,
  peopleStore,
  PeopleSets,
  permissionValues,
  vocabularyStore,
  write,
  type ContactRow,
  type Values,
} from '../contacts/index.js';
import type { SQL } from 'drizzle-orm';
import { Database, type Db } from '../platform/database.js';
import { readFile, saveFile } from '../platform/files/files.store.js';
import { Jobs } from '../platform/jobs.js';
import { Keys } from '../platform/keys.js';
import { notFound, Problem } from '../platform/problem.js';
import { userById } from '../platform/sign-in/sign-in.store.js';
import { Foreground, Stride } from '../platform/stride.js';
import { inTurn } from '../platform/upload.js';
import { CLOCK } from '../platform/time.js';
import * as store from './intake.store.js';
import { findEncoding, refuseBinary, rowsAbove, rowsOf, separatorOf, shapeOf } from './reading.js';

export const IMPORT_BYTES = 200 * 1024 * 1024;
/** Rows in one transaction, and how much text at the most: long cells are few people. */
const CHUNK = { first: 200, least: 100, most: 1000, signs: 1_000_000 };

/** How many reasons are fetched at a time. */
const REFUSALS = 1000;

interface Line {
  readonly row: number;
  readonly line: number;
  readonly cells: string[];
}

@Injectable()
export class IntakeService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly contacts: ContactsService,
    private readonly changes: ChangesService,
    private readonly sets: PeopleSets,
    private readonly jobs: Jobs,
    private readonly keys: Keys,
    private readonly foreground: Foreground,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    const { db } = this.database;
    const row = async (id: number): Promise<store.Import | undefined> =>
      (await store.importById(db, id))?.row;
    this.jobs.register({
      name: 'import',
      run: (id, signal) => this.run(id, signal),
      unfinished: () => store.runningImports(db),
      what: async (id) => `bringing in “${(await row(id))?.fileName ?? 'a list'}”`,
      leave: async (id) => {
        const found = await row(id);
        if (found) await this.end(found, 'cancelled');
      },
    });
    this.sets.register('import', 'of whoever asks', async ({ id, part }, viewer) => {
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
  async import(id: number, viewer: Viewer): Promise<store.ImportLine> {
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

  async upload(pieces: readonly Buffer[], fileName: string, viewer: Viewer): Promise<number> {
    const { db } = this.database;
    const now = this.clock.now();
    const encoding = await findEncoding(pieces);
    refuseBinary(pieces, encoding);
    const separator = separatorOf(pieces, encoding);
    const fields = await vocabularyStore.allFields(db);
    const shape = await shapeOf(inTurn(pieces), encoding, separator, importable(fields));
    const file = await saveFile(db, 'text/csv', pieces, now);
    const house = await vocabularyStore.housePool(db);
    return store.addImport(db, {
      state: 'uploaded',
      fileId: file.id,
      fileName: oneLine(fileName).slice(0, 120) || 'a list',
      encoding,
      separator,
      ...shape,
      mapping: recogniseColumns(shape.headers, importable(fields), shape.sample),
      poolId: house.id,
      ownerId: viewer.userId,
      userId: viewer.userId,
      createdAt: now,
    });
  }

  /** Reads the same file again with another encoding, separator or header. */
  async readAgain(
    id: number,
    { encoding, separator, headerAt }: ReadingRequest,
    viewer: Viewer,
  ): Promise<void> {
    const { db } = this.database;
    const { fileId } = (await this.import(id, viewer)).row;
    const fields = importable(await vocabularyStore.allFields(db));
    const shape = await shapeOf(readFile(db, fileId), encoding, separator, fields, headerAt);
    const mapping = recogniseColumns(shape.headers, fields, shape.sample);
    if (!(await store.moveImport(db, id, 'uploaded', { encoding, separator, ...shape, mapping })))
      throw new Problem(422, 'This import has begun already.');
  }

  /** The refused rows as they stand in the file, with the reason behind the columns of the header. */
  async *refusedLines({
    id,
    fileId,
    encoding,
    separator,
    headerAt,
    headers,
  }: store.Import): AsyncGenerator<string[]> {
    const { db } = this.database;
    let page = await store.refusals(db, id, 0, REFUSALS);
    let next = 0;
    const width = headers.length;
    // Counted as the rows of the table are: the header is row 0.
    let row = -rowsAbove(headerAt);
    for await (const { cells } of rowsOf(readFile(db, fileId), encoding, separator)) {
      row++;
      if (row === 0)
        yield [
          ...Array.from({ length: width }, (_, at): string => cells[at] ?? ''),
          'why it was refused',
        ];
      const refused = page[next];
      if (!refused) return;
      if (row !== refused.row) continue;
      yield [
        ...Array.from({ length: width }, (_, at): string => cells[at] ?? ''),
        refused.reason,
        ...cells.slice(width),
      ];
      if (++next < page.length) continue;
      page = await store.refusals(db, id, row, REFUSALS);
      next = 0;
    }
  }

  async start(id: number, request: StartImportRequest, viewer: Viewer): Promise<void> {
    const { db } = this.database;
    const found = (await this.import(id, viewer)).row;
    const fields = await this.contacts.fields();
    const { mapping } = request;
    if (mapping.length !== found.headers.length)
      throw new Problem(
        422,
        `The file has ${found.headers.length} columns, not ${mapping.length}.`,
      );
    const targets = mapping.flatMap((target) => (target.to === 'field' ? [target.field] : []));
    const unknown = targets.find(
      (field) => !importable([...fields.values()]).some(({ key }) => key === field),
    );
    if (unknown) throw new Problem(422, 'One of the fields no longer exists. Choose another.');
    const twice = targets.find((field, at) => targets.indexOf(field) !== at);
    if (twice)
      throw new Problem(
        422,
        `Two columns would fill “${fields.get(twice)?.label ?? twice}”. Choose one.`,
      );
    if (!targets.includes('address'))
      throw new Problem(422, 'Say which column holds the email address; people are matched by it.');
    const source = oneLine(request.source);
    if (request.permission !== 'unknown' && source === '')
      throw new Problem(
        422,
        'Say where and how these people agreed; later every letter must say why it arrives.',
        { errors: [{ path: 'source', message: 'Say where and how these people agreed.' }] },
      );
    const tags = await vocabularyStore.allTags(db);
    if (
      request.tagIds.some(
        (tag) => !tags.some((known) => known.id === tag && known.kind === 'office'),
      )
    )
      throw new Problem(422, 'One of the tags no longer exists. Choose another.');
    const now = this.clock.now();
    await this.database.transaction(async (tx) => {
      const changeSetId = await changeStore.openChangeSet(tx, {
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
        permissionAt: request.permission === 'unknown' ? null : now,
        tagIds: [...new Set(request.tagIds)],
        changeSetId,
        startedAt: now,
      });
      if (!begun) throw new Problem(422, 'This import has begun already.');
      await this.jobs.nudge('import', id, tx);
    });
  }

  async cancel(id: number, viewer: Viewer): Promise<void> {
    const { row } = await this.import(id, viewer);
    if (!(await this.end(row, 'cancelled'))) throw new Problem(422, 'This import is not running.');
  }

  /** The import and its change set end together. */
  private end({ id, changeSetId }: store.Import, state: 'done' | 'cancelled'): Promise<boolean> {
    const now = this.clock.now();
    return this.database.transaction(async (tx) => {
      const moved = await store.moveImport(tx, id, 'running', { state, finishedAt: now });
      if (moved && changeSetId !== null) await changeStore.finishChangeSet(tx, changeSetId, now);
      return moved;
    });
  }

  /** Whom taking an import back would delete, who would stay although they came in by it, and whom it would change back. */
  private takingBackOf(changeSetId: number): Record<'would-go' | 'would-stay', SQL> {
    const { allOf } = peopleStore;
    const since = changeStore.hadToDoWithSince(changeSetId);
    return {
      'would-go': allOf(changeStore.madeBy(changeSetId), peopleStore.notIn(since)),
      'would-stay': allOf(changeStore.madeBy(changeSetId), since),
    };
  }

  async takingBack(id: number, viewer: Viewer): Promise<TakingBackReply> {
    const { row } = await this.import(id, viewer);
    if (row.changeSetId === null) return { go: 0, stay: 0, changed: 0 };
    const sets = this.takingBackOf(row.changeSetId);
    const count = (people: SQL): Promise<number> =>
      peopleStore.countLiving(
        this.database.db,
        peopleStore.allOf(peopleStore.scope(viewer), people),
      );
    return {
      go: await count(sets['would-go']),
      stay: await count(sets['would-stay']),
      changed: await count(store.importedPeople(id, 'changed')),
    };
  }

  /** Takes a finished or cancelled import back; what was changed since is left alone. */
  async takeBack(id: number, viewer: Viewer): Promise<void> {
    const { row } = await this.import(id, viewer);
    if (row.changeSetId === null)
      throw new Problem(422, 'Only a finished import can be taken back.');
    await this.changes.undo(row.changeSetId, viewer);
  }

  /** Goes on from the cursor; each chunk is in with everything that belongs to it, or not at all. */
  private async run(id: number, signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    const begun = (await store.importById(db, id))?.row;
    if (begun?.state !== 'running') return;
    const fields = await this.contacts.fields();
    const stride = new Stride(this.foreground, CHUNK.first, CHUNK.least, CHUNK.most);
    let chunk: Line[] = [];
    let weight = 0;
    let row = 0;
    let learnAt = begun.cursor + CHUNK.most;
    const flush = async (): Promise<boolean> => {
      if (row >= learnAt) {
        await contactStore.learnAddresses(db);
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
    await this.end(begun, 'done');
  }

  /** One chunk in one transaction. False when the import was cancelled or somebody else is ahead. */
  private async takeIn(
    id: number,
    chunk: readonly Line[],
    fields: ReadonlyMap<string, Field>,
  ): Promise<boolean> {
    const now = this.clock.now();
    return this.database.transaction(async (tx) => {
      const current = await store.lockImport(tx, id);
      const [first, last] = [chunk[0], chunk.at(-1)];
      if (
        !current ||
        !first ||
        !last ||
        current.state !== 'running' ||
        current.cursor !== first.row - 1 ||
        current.changeSetId === null
      )
        return false;
      const read = chunk.map(({ row, line, cells }) => ({
        row,
        line,
        cells,
        result: readRow(cells, current.mapping, fields),
      }));
      const keys = [
        ...new Set(read.flatMap(({ result }) => (result.ok ? [result.value.address.key] : []))),
      ];
      const known = new Map(
        (await contactStore.contactsByAddress(tx, current.poolId, keys)).map((contact) => [
          contact.addressKey ?? '',
          contact,
        ]),
      );
      const seen = await store.outcomesSoFar(
        tx,
        id,
        [...known.values()].map((contact) => contact.id),
      );
      const people = new ChunkOfPeople(
        current,
        known,
        seen,
        fields,
        (key) => this.keys.addressHash(key),
        now,
      );
      const rows: store.ImportRow[] = [];
      const onlyOwn = !seesEverybody((await userById(tx, current.userId))?.role ?? 'member');
      for (const { row, line, cells, result } of read) {
        const other = result.ok && onlyOwn ? known.get(result.value.address.key) : undefined;
        if (other && other.ownerId !== current.userId) {
          // Without a person on the further rows: a member's list of who is in the file has none of a colleague's.
          rows.push(
            seen.has(other.id)
              ? { importId: id, row, outcome: 'again' }
              : { importId: id, row, outcome: 'elsewhere', contactId: other.id },
          );
          seen.set(other.id, 'elsewhere');
        } else if (result.ok) people.take(row, result.value);
        else
          rows.push({
            importId: id,
            row,
            line,
            outcome: 'refused',
            reason: result.error,
            cells: cutCells(cells),
          });
      }
      rows.push(...(await people.writeTo(tx, id, current.changeSetId)));
      await store.addRows(tx, rows);
      const counts = count(rows);
      const changedLater = await store.countAsChanged(tx, id, people.changedLater);
      await store.countOutcomes(
        tx,
        id,
        {
          ...counts,
          changed: counts.changed + changedLater,
          unchanged: counts.unchanged - changedLater,
        },
        last.row,
      );
      return true;
    });
  }
}

const count = (rows: readonly store.ImportRow[]): Record<RowOutcome, number> => {
  const counts: Record<RowOutcome, number> = {
    new: 0,
    changed: 0,
    unchanged: 0,
    refused: 0,
    elsewhere: 0,
    again: 0,
  };
  for (const { outcome } of rows) counts[outcome]++;
  return counts;
};

/** Fields a column can fill. */
export const importable = (fields: readonly Field[]): Field[] =>
  fields.filter(({ key }) => key !== 'owner' && key !== 'permission' && key !== 'came_in');

interface Pending {
  /** Undefined for somebody new. */
  readonly contact: ContactRow | undefined;
  values: Values;
  readonly rows: number[];
}

/** What one chunk does to people; somebody who is on several rows is one person. */
class ChunkOfPeople {
  private readonly pending = new Map<string, Pending>();
  /** People whom an earlier row left as they were, and a later one didn't. */
  readonly changedLater: number[] = [];

  constructor(
    private readonly current: store.Import,
    private readonly known: ReadonlyMap<string, ContactRow>,
    /** What earlier rows of the file did to them. */
    private readonly seen: ReadonlyMap<number, RowOutcome>,
    private readonly fields: ReadonlyMap<string, Field>,
    private readonly addressHash: (key: string) => Buffer,
    private readonly now: Date,
  ) {}

  take(row: number, { address, values }: ImportedRow): void {
    const before = this.pending.get(address.key);
    const contact = this.known.get(address.key);
    const pending: Pending = before ?? {
      contact,
      values: contact ? {} : { address: address.address },
      rows: [],
    };
    pending.rows.push(row);
    pending.values = { ...pending.values, ...values, ...this.permission(contact) };
    this.pending.set(address.key, pending);
  }

  private permission(contact: ContactRow | undefined): Values {
    const { permission, permissionAt, permissionSource } = this.current;
    const from = contact?.permission ?? 'unknown';
    return contact && !raisesPermission(from, permission)
      ? {}
      : permissionValues(permission, permissionAt, permissionSource);
  }

  async writeTo(tx: Db, importId: number, setId: number): Promise<store.ImportRow[]> {
    const rows: store.ImportRow[] = [];
    const items: changeStore.ChangeItem[] = [];
    const touched: number[] = [];
    const fresh = [...this.pending.values()].filter(({ contact }) => !contact);
    const written = fresh.map(({ values }) =>
      write(undefined, values, this.addressHash, this.fields),
    );
    const ids = await contactStore.addContacts(
      tx,
      written.map((one) => ({
        ...one?.columns,
        poolId: this.current.poolId,
        ownerId: this.current.ownerId,
        createdAt: this.now,
        updatedAt: this.now,
      })),
    );
    fresh.forEach((pending, at) => {
      const contactId = ids[at];
      if (contactId === undefined) throw new Error('a contact was not written');
      touched.push(contactId);
      items.push({ setId, contactId, before: null, after: written[at]?.after ?? {} });
      rows.push(
        ...pending.rows.map((row, place) => ({
          importId,
          row,
          outcome: place === 0 ? ('new' as const) : ('again' as const),
          contactId,
        })),
      );
    });
    for (const { contact, values, rows: own } of this.pending.values()) {
      if (!contact) continue;
      touched.push(contact.id);
      const change = write(contact, values, this.addressHash, this.fields);
      if (change) {
        await contactStore.changeContact(tx, contact.id, contact.version, change.columns, this.now);
        items.push({ setId, contactId: contact.id, before: change.before, after: change.after });
      }
      const before = this.seen.get(contact.id);
      const first: RowOutcome = before ? 'again' : change ? 'changed' : 'unchanged';
      if (change && before === 'unchanged') this.changedLater.push(contact.id);
      rows.push(
        ...own.map((row, place) => ({
          importId,
          row,
          outcome: place === 0 ? first : ('again' as const),
          contactId: contact.id,
        })),
      );
    }
    const tagged = await contactStore.putTags(tx, touched, this.current.tagIds);
    const isNew = new Set(ids);
    const tagItems = new Map<number, changeStore.ChangeItem>();
    for (const { contactId, tagId } of tagged) {
      const item = tagItems.get(contactId) ?? {
        setId,
        contactId,
        before: isNew.has(contactId) ? null : {},
        after: {},
      };
      if (item.before) item.before = { ...item.before, [`tag_${tagId}`]: false };
      item.after = { ...item.after, [`tag_${tagId}`]: true };
      tagItems.set(contactId, item);
    }
    await changeStore.addChangeItems(tx, items);
    await changeStore.addChangeItems(tx, [...tagItems.values()]);
    await changeStore.countInto(
      tx,
      setId,
      new Set([...items, ...tagItems.values()].map(({ contactId }) => contactId)).size,
    );
    return rows;
  }
}
