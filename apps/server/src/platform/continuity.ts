// Whether the office goes on where it was. Restored from a backup, copied with its directory, or with a clock that
// went back, it would send again what has gone out already: so nothing leaves until somebody has looked.
import { randomUUID } from 'node:crypto';
import { readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import type { Clock } from '@palabra/core/kernel';
import type { Config } from './config.js';
import * as store from './continuity.store.js';
import type { Break } from './continuity.table.js';
import { Database } from './database.js';
import { log, safeError } from './log.js';
import { CLOCK, CONFIG } from './time.js';

const EVERY_MS = 30_000;
/** A clock is set by minutes at times; an hour back is another day's data or another machine. */
const BACK_MS = 3_600_000;

/** The mark beside the database says which database it belongs to, and where it was written. */
interface Mark {
  readonly mark: string;
  readonly place: string;
}

@Injectable()
export class Continuity implements OnApplicationShutdown {
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly database: Database,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  /** Looks at start, before anything is sent; a database that was never at work (a template, say) begins here. */
  async start(): Promise<void> {
    const { db } = this.database;
    const place = await this.place();
    const row = await store.readContinuity(db);
    const now = this.clock.now();
    const by = row && this.breakOf(row, place, now);
    if (row && by) {
      await store.breakContinuity(db, by, row.seenAt, now);
      log.warn({ by }, 'nothing is sent until somebody has looked: the desk says why');
    }
    const mark = row?.mark ?? randomUUID();
    await store.beginContinuity(db, mark, place, now);
    if (this.database.isEmbedded)
      writeFileSync(this.file(), JSON.stringify({ mark, place } satisfies Mark));
    this.timer = setInterval(
      () =>
        void this.look().catch((error: unknown) =>
          log.warn({ error: safeError(error) }, 'the clock could not be looked at'),
        ),
      EVERY_MS,
    );
  }

  private breakOf(row: store.ContinuityRow, place: string, now: Date): Break | undefined {
    const beside = this.database.isEmbedded ? this.readMark() : row;
    if (beside?.mark !== row.mark) return 'restored';
    if (beside.place !== place) return 'copied';
    return row.seenAt.getTime() - now.getTime() > BACK_MS ? 'clock' : undefined;
  }

  /** Whether everything that leaves the office stands still. */
  async isBroken(): Promise<boolean> {
    return (await store.readContinuity(this.database.db))?.brokenBy != null;
  }

  /** The clock while it runs. */
  async look(): Promise<void> {
    const { db } = this.database;
    const row = await store.readContinuity(db);
    const now = this.clock.now();
    if (row && row.seenAt.getTime() - now.getTime() > BACK_MS)
      await store.breakContinuity(db, 'clock', row.seenAt, now);
    await store.seen(db, now);
  }

  private file(): string {
    return join(this.config.dataDir, 'palabra.mark');
  }

  private readMark(): Mark | undefined {
    try {
      return JSON.parse(readFileSync(this.file(), 'utf8')) as Mark;
    } catch {
      return undefined;
    }
  }

  /** Where the data is: a directory on a disk, or a database on a server. */
  private async place(): Promise<string> {
    if (!this.database.isEmbedded) return store.serverPlace(this.database.db);
    // A directory keeps its number when it is given another name, and when the machine is started anew; a copy has its own.
    return String(statSync(this.config.dataDir).ino);
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }
}
