// Long work: a job is only a nudge, the truth stands in the work's own rows. Whatever is unfinished
// and has no live worker is nudged again.
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import type { Clock, Ids } from '@palabra/core/kernel';
import { pauseAfterFailures, workKinds, type WorkKind } from '@palabra/core/office';
import { sql } from 'drizzle-orm';
import PgBoss from 'pg-boss';
import type { Config } from './config.js';
import { Database, execute, isConnectionLost, isPassing, type Db } from './database.js';
import { log, safeError } from './log.js';
import { Problem, sqlState } from './problem.js';
import { decideFailure, forgetFailures, noteFailure } from './standstill.store.js';
import { CLOCK, CONFIG, IDS } from './time.js';
import { standstills } from './standstill.table.js';
import { continuity } from './continuity.table.js';
import { workers } from './workers.table.js';
import { claims } from './claims.table.js';

export interface Work<I extends number = number> {
  /** Does all there is to do for one thing; idempotent, safe to call when there is nothing. */
  readonly run: (id: I, signal: AbortSignal) => Promise<void>;
  /** Ids of things with something to do now. */
  readonly unfinished: () => Promise<I[]>;
  /** Whether it sends anything out of the office: it waits while the office may not be what it takes itself for. */
  readonly isOutward?: boolean;
  /** What it is for one thing, in words for the desk: “taking back: tagged guest”. */
  readonly what: (id: I) => Promise<string>;
  /** Ends it where it is, when somebody says so of work that was given up. */
  readonly leave: (id: I) => Promise<void>;
  /** When it is done for thing 0 by itself, as a cron line in UTC. */
  readonly schedule?: string;
}

/** Thrown by work that no further try will help: it is given up at once. */
export class GiveUp extends Error {}

const BEAT_MS = 1000;
const SWEEP_MS = 2000;

@Injectable()
export class Jobs implements OnApplicationShutdown {
  readonly worker: string;
  private readonly works = new Map<WorkKind, Work>();
  private readonly running = new Map<string, Promise<void>>();
  private readonly again = new Set<string>();
  private readonly stopping = new AbortController();
  private readonly timers: NodeJS.Timeout[] = [];
  private readonly pollers = new Map<WorkKind, string>();
  private boss: PgBoss | undefined;

  constructor(
    private readonly database: Database,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(CLOCK) private readonly clock: Clock,
    @Inject(IDS) ids: Ids,
  ) {
    this.worker = ids.uuid();
  }

  /** Whether long work is being done in this process. */
  get isBusy(): boolean {
    return this.running.size > 0;
  }

  /** Whoever does a kind of work says what the keys of its things are. */
  register<I extends number>(kind: WorkKind, work: Work<I>): void {
    this.works.set(kind, work as unknown as Work);
  }

  async start(): Promise<void> {
    const missing = workKinds.filter((kind) => !this.works.has(kind));
    if (missing.length > 0) throw new Error(`nobody does this work: ${missing.join(', ')}`);
    await this.beat();
    const boss = new PgBoss({
      ...this.database.connection,
      // One for each queue that is looked into, and for its upkeep: who still waited for one when the queue ends would
      // wait for ever, and so would its end.
      max: workKinds.length + 3,
      schema: 'pgboss',
      supervise: true,
    });
    boss.on('error', (error) => log.warn({ error: safeError(error) }, 'job queue'));
    await boss.start();
    this.boss = boss;
    for (const [kind, { schedule }] of this.works) {
      await boss.createQueue(kind);
      const poller = await boss.work<{ id: number }>(
        kind,
        { pollingIntervalSeconds: 2, batchSize: 20 },
        async (jobs) => {
          for (const job of jobs) void this.runNow(kind, job.data.id);
        },
      );
      this.pollers.set(kind, poller);
      if (schedule) await boss.schedule(kind, schedule, { id: 0 });
    }
    this.timers.push(
      setInterval(() => void this.quietly(() => this.beat()), BEAT_MS),
      setInterval(() => void this.quietly(() => this.sweep()), SWEEP_MS),
    );
    await this.sweep();
  }

  /** Asks for work on a thing, in the caller's transaction when there is one: it starts only if that commits. */
  async nudge(kind: WorkKind, id: number, tx?: Db): Promise<void> {
    if (!this.boss) return; // before start the first sweep finds everything
    const db = tx && {
      executeSql: async (text: string, values: unknown[]) => ({
        rows: (await tx.execute(bind(text, values))).rows as object[],
      }),
    };
    await this.boss.send(kind, { id }, db ? { db: db } : {});
    const poller = this.pollers.get(kind);
    if (poller) setTimeout(() => this.boss?.notifyWorker(poller), tx ? 30 : 0);
  }

  /** Does it in this process at once, without waiting for the queue; one at a time per thing, a call during a run makes it run once more. */
  async runNow(kind: WorkKind, id: number): Promise<void> {
    const thing = `${kind} ${id}`;
    if (this.running.has(thing)) {
      this.again.add(thing);
      return;
    }
    const work = this.works.get(kind);
    if (!work || this.stopping.signal.aborted) return;
    const run = (async () => {
      do {
        this.again.delete(thing);
        const claimed = await this.claim(thing, kind, work, id);
        if (!claimed) return;
        try {
          await work.run(id, this.stopping.signal);
          if (claimed.hasFailed) await forgetFailures(this.database.db, kind, id);
        } finally {
          await this.release(thing);
        }
      } while (this.again.has(thing) && !this.stopping.signal.aborted);
    })();
    this.running.set(
      thing,
      run.catch((error: unknown) => {
        if (isConnectionLost(error))
          return log.warn({ thing }, 'work interrupted: the database went away');
        log.error({ thing, error: safeError(error) }, 'work failed');
        return this.failed(kind, work, id, error).catch((cause: unknown) =>
          log.error({ thing, error: safeError(cause) }, 'a failure could not be written down'),
        );
      }),
    );
    await this.running.get(thing);
    this.running.delete(thing);
    // Asked for after the last look at what was asked for.
    if (this.again.delete(thing)) void this.runNow(kind, id);
  }

  /** Work that fails is tried again after growing pauses, then given up; what passes by itself does not count. */
  private async failed(kind: WorkKind, work: Work, id: number, error: unknown): Promise<void> {
    if (isPassing(error)) return;
    const { db } = this.database;
    const failures = await noteFailure(db, kind, id, await work.what(id), reasonOf(error));
    const now = this.clock.now();
    const pause = error instanceof GiveUp ? undefined : pauseAfterFailures(failures);
    await decideFailure(
      db,
      kind,
      id,
      pause === undefined
        ? { stoppedAt: now }
        : { nextAt: new Date(now.getTime() + pause / this.config.pace) },
    );
  }

  /** Tries failed work again now, or leaves it as it is. False when it has not failed. */
  async decide(name: string, id: number, how: 'again' | 'leave'): Promise<boolean> {
    const kind = workKinds.find((one) => one === name);
    const work = kind && this.works.get(kind);
    if (!work || !(await forgetFailures(this.database.db, kind, id))) return false;
    if (how === 'leave') await work.leave(id);
    else void this.runNow(kind, id);
    return true;
  }

  /** Undefined when somebody else has it, or it is not to be done now. */
  private async claim(
    thing: string,
    kind: WorkKind,
    { isOutward = false }: Work,
    id: number,
  ): Promise<{ readonly hasFailed: boolean } | undefined> {
    const { rows } = await execute<{ has_failed: boolean }>(
      this.database.db,
      sql`
      insert into ${claims} (thing, worker) select ${thing}, ${this.worker}::uuid
      where not exists (select 1 from ${standstills} where work = ${kind} and thing = ${id} and (stopped_at is not null or next_at > ${this.clock.now()}))
        and not (${isOutward} and exists (select 1 from ${continuity} where broken_by is not null))
      on conflict (thing) do update set worker = excluded.worker
        where claims.worker = excluded.worker or not exists (${this.living(sql`claims.worker`)})
      returning exists (select 1 from ${standstills} where work = ${kind} and thing = ${id}) as has_failed`,
    );
    return rows[0] && { hasFailed: rows[0].has_failed };
  }

  private async release(thing: string): Promise<void> {
    await execute(
      this.database.db,
      sql`delete from ${claims} where thing = ${thing} and worker = ${this.worker}`,
    );
  }

  /** A subquery with a row when that worker has beaten within the lease, or is this one: after an outage of the database its own beat is old, too. */
  living(worker: ReturnType<typeof sql>): ReturnType<typeof sql> {
    return sql`select 1 from ${workers} w where w.id = ${worker} and (w.id = ${this.worker} or w.beat_at > ${new Date(this.clock.now().getTime() - this.config.leaseMs)})`;
  }

  private async beat(): Promise<void> {
    const now = this.clock.now();
    await execute(
      this.database.db,
      sql`insert into ${workers} (id, beat_at) values (${this.worker}, ${now}) on conflict (id) do update set beat_at = excluded.beat_at`,
    );
  }

  private async sweep(): Promise<void> {
    if (this.stopping.signal.aborted) return;
    for (const [kind, work] of this.works)
      for (const id of await work.unfinished()) void this.runNow(kind, id);
  }

  private async quietly(task: () => Promise<void>): Promise<void> {
    try {
      await task();
    } catch (error) {
      if (!this.stopping.signal.aborted)
        log.warn({ error: safeError(error) }, 'background task failed, will be tried again');
    }
  }

  async onApplicationShutdown(): Promise<void> {
    this.stopping.abort();
    for (const timer of this.timers) clearInterval(timer);
    await Promise.all(this.running.values());
    // What was just begun comes to its end first: it would go on in a process that is gone.
    await this.boss?.stop({ graceful: true, wait: true, timeout: 10_000 }).catch(() => undefined);
    await execute(this.database.db, sql`delete from ${workers} where id = ${this.worker}`).catch(
      () => undefined,
    );
  }
}

/** Why work failed, in words that name nobody: what an error says of itself may quote people. */
function reasonOf(error: unknown): string {
  if (error instanceof Problem || error instanceof GiveUp) return error.message;
  const state = sqlState(error);
  if (state?.startsWith('23'))
    return `what it would write does not go together with what is there now (${state})`;
  const { name, code } = error as NodeJS.ErrnoException;
  return `an error of the program (${[name, code ?? state].filter(Boolean).join(', ')}); the log says where`;
}

/** Text with `$1` placeholders and values as a Drizzle statement. */
function bind(text: string, values: unknown[]): ReturnType<typeof sql> {
  const parts = text.split(/\$(\d+)/);
  return sql.join(
    parts.map((part, at) =>
      at % 2 === 0 ? sql.raw(part) : sql`${sql.param(values[Number(part) - 1])}`,
    ),
  );
}
