// Housekeeping that nobody asks for: what is due is done in small pieces, now and then.
import { Injectable, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import { Database } from './database.js';
import { Jobs } from './jobs.js';
import { log, safeError } from './log.js';
import { Foreground } from './stride.js';
import { pack, roomOf, untidyTable, vacuum } from './vacuum.store.js';

/** Does one small piece; true when there may be more. */
export type Chore = () => Promise<boolean>;

const EVERY_MS = 30_000;
/** Nobody asked for anything this long: a good moment. */
const RESTED_MS = 20_000;
/** Nor this long: a table may be closed for some seconds. */
const ALONE_MS = 20 * 60_000;
/** A table is tidied at the latest after this long. */
const MOST_MS = 3_600_000;

/** In bytes: a smaller table is read at once as it is, a larger one would be closed for too long. */
const PACKED = { least: 32 * 1024 * 1024, most: 512 * 1024 * 1024 };

@Injectable()
export class Upkeep implements OnModuleInit, OnApplicationShutdown {
  private readonly chores: Chore[] = [];
  private readonly readWhole: string[] = [];
  /** How large each was when it was packed. */
  private readonly packed = new Map<string, number>();
  private timer: NodeJS.Timeout | undefined;
  private tidying: Promise<void> = Promise.resolve();
  private lastTidying = performance.now();

  constructor(
    private readonly database: Database,
    private readonly jobs: Jobs,
    private readonly foreground: Foreground,
  ) {}

  /** A table that many questions read from end to end. */
  keepPacked(table: string): void {
    this.readWhole.push(table);
  }

  register(chore: Chore): void {
    this.chores.push(chore);
  }

  /** By the clock of the queue, so that of several processes one does it. */
  onModuleInit(): void {
    this.jobs.register('upkeep', {
      schedule: '* * * * *',
      run: (_, signal) => this.doChores(signal),
      unfinished: () => Promise.resolve([]),
      what: () => Promise.resolve('forgetting what is too old'),
      leave: () => Promise.resolve(),
    });
  }

  /** The embedded database has no upkeep of its own, and one process. */
  start(): void {
    if (!this.database.isEmbedded) return;
    this.timer = setInterval(() => {
      this.tidying = this.tidying.then(() => this.tidyOne()).catch(warn);
    }, EVERY_MS);
  }

  /** One round over all chores; between pieces others get their turn. */
  private async doChores(signal: AbortSignal): Promise<void> {
    for (const chore of this.chores) while (!signal.aborted && (await chore()));
  }

  /**
   * One table a round: a vacuum holds up whoever comes meanwhile. None during an import or a send, and none while
   * people are at work, but for a table that has waited a long time.
   */
  async tidyOne(): Promise<void> {
    if (this.jobs.isBusy) return;
    if (!this.foreground.hasRested(RESTED_MS) && performance.now() - this.lastTidying < MOST_MS)
      return;
    this.lastTidying = performance.now();
    const table = await untidyTable(this.database.db);
    if (table) await vacuum(this.database.db, table);
    else if (this.foreground.hasRested(ALONE_MS)) await this.packOne();
  }

  /**
   * Tidying makes room usable again that rows left behind when they were written several times over, as all people's are by a
   * send; a look at everybody still goes through it. A table that is mostly such room is written anew.
   */
  async packOne(): Promise<void> {
    const { db } = this.database;
    for (const table of this.readWhole) {
      const { size, needed } = await roomOf(db, table);
      const since = this.packed.get(table) ?? 0;
      if (size < PACKED.least || size > PACKED.most || size < 2 * Math.max(needed, since)) continue;
      await pack(db, table);
      this.packed.set(table, (await roomOf(db, table)).size);
      return;
    }
  }

  async onApplicationShutdown(): Promise<void> {
    clearInterval(this.timer);
    await this.tidying;
  }
}

const warn = (error: unknown): void =>
  log.warn({ error: safeError(error) }, 'upkeep failed, will be tried again');
