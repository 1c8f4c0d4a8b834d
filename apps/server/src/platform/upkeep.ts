// Housekeeping that nobody asks for: what is due is done in small pieces, now and then.
import { Injectable, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import { Database } from './database.js';
import { Jobs } from './jobs.js';
import { log, safeError } from './log.js';
import { Foreground } from './stride.js';
import { untidyTable, vacuum } from './vacuum.store.js';

/** Does one small piece; true when there may be more. */
export type Chore = () => Promise<boolean>;

const EVERY_MS = 30_000;
/** Nobody asked for anything this long: a good moment. */
const RESTED_MS = 20_000;
/** A table is tidied at the latest after this long. */
const MOST_MS = 3_600_000;

@Injectable()
export class Upkeep implements OnModuleInit, OnApplicationShutdown {
  private readonly chores: Chore[] = [];
  private timer: NodeJS.Timeout | undefined;
  private tidying: Promise<void> = Promise.resolve();
  private lastTidying = performance.now();

  constructor(
    private readonly database: Database,
    private readonly jobs: Jobs,
    private readonly foreground: Foreground,
  ) {}

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
  }

  async onApplicationShutdown(): Promise<void> {
    clearInterval(this.timer);
    await this.tidying;
  }
}

const warn = (error: unknown): void =>
  log.warn({ error: safeError(error) }, 'upkeep failed, will be tried again');
