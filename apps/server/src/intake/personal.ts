// Imported files without the rows of who was erased. A file may be long, so it is gone through behind the erasing, one
// after another; a row that goes leaves an empty one in its place, so that all others keep their number.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { addressKeysIn, ERASED, type ContactId } from '@palabra/core/contacts';
import type { ImportId } from '@palabra/core/intake';
import type { Clock } from '@palabra/core/kernel';
import { stringify } from 'csv-stringify/sync';
import { allFields, erasedHashes, PersonalPlaces, type Gone } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { saveFile } from '../platform/files/files.store.js';
import { Keys } from '../platform/keys.js';
import { CLOCK } from '../platform/time.js';
import { inTurn } from '../platform/upload.js';
import { ImportFiles } from './files.js';
import { importable } from './importable.js';
import { importById, type Import } from './intake.store.js';
import * as store from './personal.store.js';
import { rowsAbove, shapeOf } from './reading.js';

/** Rows whose addresses are looked up at once. */
const PAGE = 500;
/** Why a row of somebody who was erased is refused; it says no more. */
export const WAS_ERASED = 'its owner asked to be erased; only they themselves can come back';

@Injectable()
export class ImportPlaces implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly places: PersonalPlaces,
    private readonly keys: Keys,
    private readonly files: ImportFiles,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.places.register('imports', {
      held: async (db, { people }) =>
        (await store.filesWith(db, people)).map(({ name, at, rows }) => ({
          at,
          what: name,
          text: `row ${rows}`,
        })),
      forget: () => Promise.resolve(),
      behind: (gone, after, signal) => this.next(gone, after, signal),
    });
  }

  /**
   * At somebody's request every file is gone through; when the bin is emptied, those that they came with. One that is
   * being brought in is waited for: it would lose its place.
   */
  private async next(
    { people, isAsked }: Gone,
    after: number,
    signal: AbortSignal,
  ): Promise<number | undefined> {
    const { db } = this.database;
    const id = isAsked
      ? (await store.importAfter(db, after))?.id
      : await store.importWith(db, after, people);
    if (id === undefined) return undefined;
    if ((await importById(db, id))?.row.state === 'running') return after;
    return (await this.clean(id, people, signal)) ? id : after;
  }

  /**
   * Takes the rows of some people, and of whoever was erased, out of one file and its refused rows. False when it was
   * stopped before its end, or the import was begun meanwhile: what reads a file must not lose it. `by` the import itself,
   * which has read it to its end.
   */
  async clean(
    id: ImportId,
    people: readonly ContactId[],
    signal: AbortSignal,
    by?: 'running',
  ): Promise<boolean> {
    const { db } = this.database;
    const found = (await importById(db, id))?.row;
    if (!found) return true;
    await store.forgetCells(db, id, people);
    await this.cleanRefused(id, signal);
    // Before what was mended goes: by what the rows would do it is known whose those are that have no address.
    const gone = await this.rowsToGo(found, people, signal);
    if (gone === undefined) return false;
    await this.cleanMends(id, signal);
    if (found.lookVersion !== null) await store.forgetLooks(db, id);
    return gone.size === 0 || this.rewrite(found, gone, signal, by);
  }

  private async cleanRefused(id: ImportId, signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    for (let after = 0; !signal.aborted;) {
      const page = await store.refusedAfter(db, id, after, PAGE);
      const last = page.at(-1);
      if (!last) return;
      const erased = await this.erasedAmong(
        page.map(({ reason, cells }) => [reason ?? '', ...(cells ?? [])]),
      );
      await store.forgetRefused(
        db,
        id,
        page.filter((_, at) => erased.has(at)).map(({ row }) => row),
        WAS_ERASED,
      );
      after = last.row;
    }
  }

  private async cleanMends(id: ImportId, signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    for (let after = 0; !signal.aborted;) {
      const page = await store.mendsAfter(db, id, after, PAGE);
      const last = page.at(-1);
      if (!last) return;
      const erased = await this.erasedAmong(page.map(({ cells }) => Object.values(cells)));
      await store.forgetMends(
        db,
        id,
        page.filter((_, at) => erased.has(at)).map(({ row }) => row),
      );
      after = last.row;
    }
  }

  /** Places of those rows that name an address which was erased. */
  private async erasedAmong(rows: readonly (readonly string[])[]): Promise<ReadonlySet<number>> {
    const named = rows.map((cells) =>
      cells.flatMap((cell) => addressKeysIn(cell).map((key) => this.keys.addressHash(key))),
    );
    const erased = await erasedHashes(this.database.db, named.flat());
    return new Set(
      named.flatMap((hashes, at) =>
        hashes.some((hash) => erased.has(hash.toString('hex'))) ? [at] : [],
      ),
    );
  }

  /** By their place in the file, titles and header included, from 0. */
  private async rowsToGo(
    found: Import,
    people: readonly ContactId[],
    signal: AbortSignal,
  ): Promise<Set<number> | undefined> {
    const above = rowsAbove(found.headerAt);
    const gone = new Set(
      [...(await store.rowsIn(this.database.db, found.id, people))].map((row) => row - 1 + above),
    );
    let page: string[][] = [];
    let at = 0;
    const look = async (): Promise<void> => {
      const first = at - page.length;
      for (const one of await this.erasedAmong(page)) gone.add(first + one);
      page = [];
    };
    for await (const { cells } of this.files.rows(found)) {
      if (signal.aborted) return undefined;
      page.push(cells);
      at++;
      if (page.length === PAGE) await look();
    }
    await look();
    return gone;
  }

  private async rewrite(
    found: Import,
    gone: ReadonlySet<number>,
    signal: AbortSignal,
    by: 'running' | undefined,
  ): Promise<boolean> {
    const { separator, headerAt } = found;
    const pieces: Buffer[] = [];
    let lines: string[][] = [];
    const flush = (): void => {
      pieces.push(Buffer.from(stringify(lines, { delimiter: separator }), 'utf8'));
      lines = [];
    };
    let at = 0;
    for await (const { cells } of this.files.rows(found)) {
      if (signal.aborted) return false;
      // An empty row would not count as one.
      lines.push(gone.has(at++) ? cells.map((_, cell) => (cell === 0 ? ERASED : '')) : cells);
      if (lines.length === PAGE) flush();
    }
    flush();
    const { db } = this.database;
    const fields = importable(await allFields(db));
    const shape = await shapeOf(inTurn(pieces), 'utf-8', separator, fields, headerAt);
    const file = await saveFile(db, 'text/csv', pieces, this.clock.now());
    return this.database.transaction(async (tx) => {
      const above = rowsAbove(headerAt);
      await store.forgetMends(
        tx,
        found.id,
        [...gone].map((at) => at + 1 - above),
      );
      return store.takeFile(tx, found, by, {
        fileId: file.id,
        // A workbook or cards are not written anew: the table of them is what stays.
        originalId: null,
        sheets: [],
        encoding: 'utf-8',
        // Words of the file.
        guesses: [],
        beginning: shape.beginning,
        sample: shape.sample,
      });
    });
  }
}
