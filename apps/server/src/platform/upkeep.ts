// Housekeeping that nobody asks for: what is due is done in small pieces, now and then.
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
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
export class Upkeep implements OnApplicationShutdown {
  private readonly chores: Chore[] = [];
  private timer: NodeJS.Timeout | undefined;
  private round: Promise<void> = Promise.resolve();
  private stopped = false;
  private lastTidying = performance.now();

  constructor(
    private readonly database: Database,
    private readonly jobs: Jobs,
    private readonly foreground: Foreground,
  ) {
    if (database.isEmbedded) this.register(() => this.tidyOne());
  }

  register(chore: Chore): void {
    this.chores.push(chore);
  }

  start(): void {
    this.timer = setInterval(() => {
      this.round = this.round.then(() => this.once());
    }, EVERY_MS);
  }

  /** One round over all chores; between pieces others get their turn. */
  async once(): Promise<void> {
    for (const chore of this.chores) {
      try {
        while (!this.stopped && (await chore()));
      } catch (error) {
        if (!this.stopped)
          log.warn({ error: safeError(error) }, 'upkeep failed, will be tried again');
      }
    }
  }

  /**
   * One table a round: a vacuum holds up whoever comes meanwhile. None during an import or a send, and none while
   * people are at work, but for a table that has waited a long time.
   */
  private async tidyOne(): Promise<boolean> {
    if (this.jobs.isBusy) return false;
    if (!this.foreground.hasRested(RESTED_MS) && performance.now() - this.lastTidying < MOST_MS)
      return false;
    this.lastTidying = performance.now();
    const table = await untidyTable(this.database.db);
    if (table) await vacuum(this.database.db, table);
    return false;
  }

  async onApplicationShutdown(): Promise<void> {
    this.stopped = true;
    clearInterval(this.timer);
    await this.round;
  }
}
