// The look at a file before it comes in: what each row would do, counted, with nothing changed. Each change of what was
// said of the file begins it anew; the last whole look stays until the next one is.
import { setTimeout } from 'node:timers/promises';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { type ImportId } from '@palabra/core/intake';
import { allTags, VocabularyService } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { Jobs } from '../platform/jobs.js';
import { Foreground, Stride } from '../platform/stride.js';
import { Deciding } from './deciding.js';
import { ImportFiles, type Line } from './files.js';
import * as store from './look.store.js';
import { Glance } from './glance.js';
import { importById, lockImport, type Import } from './intake.store.js';

const CHUNK = { first: 300, least: 100, most: 1500, signs: 1_000_000 };
/** So long after a row was mended the next one may come. */
const REST_MS = 1500;

@Injectable()
export class LookWork implements OnModuleInit {
  private readonly mendedAt = new Map<ImportId, number>();

  constructor(
    private readonly database: Database,
    private readonly vocabulary: VocabularyService,
    private readonly deciding: Deciding,
    private readonly files: ImportFiles,
    private readonly jobs: Jobs,
    private readonly foreground: Foreground,
  ) {}

  onModuleInit(): void {
    const { db } = this.database;
    this.jobs.register<ImportId>('looking', {
      run: (id, signal) => this.run(id, signal),
      unfinished: () => store.unlookedImports(db),
      what: async (id) =>
        `looking at “${(await importById(db, id))?.row.fileName ?? 'a list'}” before it comes in`,
      leave: () => Promise.resolve(),
    });
  }

  /** Rows are mended one after another: all are looked at again when somebody rests. */
  private async untilMended(id: ImportId, signal: AbortSignal): Promise<void> {
    const left = (): number => (this.mendedAt.get(id) ?? 0) + REST_MS - performance.now();
    while (left() > 0 && !signal.aborted) await setTimeout(Math.min(left(), 200));
    this.mendedAt.delete(id);
  }

  /** Looks until the latest is looked at whole. */
  private async run(id: ImportId, signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    while (!signal.aborted) {
      const found = (await importById(db, id))?.row;
      if (found?.state !== 'uploaded' || found.lookVersion === found.lookWanted) return;
      await this.untilMended(id, signal);
      if (!(await this.look(found, signal))) continue;
      await store.dropLooks(db, id, found.lookWanted);
    }
  }

  /** False when something else was said meanwhile. */
  private async look(current: Import, signal: AbortSignal): Promise<boolean> {
    const { db } = this.database;
    const { id, lookWanted: version } = current;
    await store.dropLooks(db, id, current.lookVersion ?? undefined);
    const glance = await this.begin(current);
    const stride = new Stride(this.foreground, CHUNK.first, CHUNK.least, CHUNK.most);
    let cursor = 0;
    if (!(await store.markLook(db, id, version, { cursor }))) return false;
    for await (const lines of this.files.chunks(current, 0, () => stride.size, CHUNK.signs)) {
      if (signal.aborted) return false;
      const isLatest = await stride.step(async () => {
        const rows = await glance.rows(db, lines);
        cursor = lines.at(-1)?.row ?? cursor;
        return this.database.transaction(async (tx) => {
          // First, so that nothing is written for a file that was begun or thrown away meanwhile.
          if (!(await store.markLook(tx, id, version, { cursor }))) return false;
          await store.addLooks(tx, rows);
          await store.lookAsChanged(tx, id, version, glance.changedAfterAll());
          return true;
        });
      });
      if (!isLatest) return false;
    }
    return store.markLook(db, id, version, { cursor, done: glance.counts() });
  }

  /** A row is being mended: the others wait until the hand rests. */
  mending(id: ImportId): void {
    this.mendedAt.set(id, performance.now());
  }

  /** One row alone, right after it was mended: what other rows say is known when all were looked at again. */
  async again(current: Import, line: Line, version: number): Promise<void> {
    const { db } = this.database;
    const glance = await this.begin(current);
    const rows = await glance.rows(db, [line]);
    await this.database.transaction(async (tx) => {
      const now = await lockImport(tx, current.id);
      if (now?.state === 'uploaded' && now.lookVersion === version)
        await store.addLooks(
          tx,
          rows.map((row) => ({ ...row, version })),
        );
    });
  }

  private async begin(current: Import): Promise<Glance> {
    const { db } = this.database;
    const said = await this.deciding.said(db, current, await this.vocabulary.fields());
    return new Glance(current, said, await allTags(db), this.deciding);
  }
}
