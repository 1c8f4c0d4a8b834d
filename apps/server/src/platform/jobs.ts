// Long work: a job is only a nudge, the truth stands in the work's own rows. Whatever is unfinished
// and has no live worker is nudged again.
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import type { Clock, Ids } from '@palabra/core/kernel';
import { sql } from 'drizzle-orm';
import PgBoss from 'pg-boss';
import type { Config } from './config.js';
import { Database, execute, isConnectionLost, isPassing, type Db } from './database.js';
import { log, safeError } from './log.js';
import { Problem, sqlState } from './problem.js';
import { forgetFailures, noteFailure, stopFailing } from './standstill.store.js';
import { CLOCK, CONFIG, IDS } from './time.js';

export interface Work {
  /** Queue name, one word. */
  readonly name: string;
  /** Does all there is to do for one thing; idempotent, safe to call when there is nothing. */
  run(id: number, signal: AbortSignal): Promise<void>;
  /** Ids of things with something to do now. */
  unfinished(): Promise<number[]>;
  /** Whether it sends anything out of the office: it waits while the office may not be what it takes itself for. */
  readonly isOutward?: boolean;
  /** What it is for one thing, in words for the desk: “taking back: tagged guest”. */
  what(id: number): Promise<string>;
  /** Ends it where it is, when somebody says so of work that stands still. */
  leave(id: number): Promise<void>;
}

const BEAT_MS = 1000;
const SWEEP_MS = 2000;
/** The same failure so often in a row is none that passes. */
const MOST_FAILURES = 5;

@Injectable()
export class Jobs implements OnApplicationShutdown {
  readonly worker: string;
  private readonly works = new Map<string, Work>();
  private readonly running = new Map<string, Promise<void>>();
  private readonly again = new Set<string>();
  private readonly failing = new Set<string>();
  private readonly stopping = new AbortController();
  private readonly timers: NodeJS.Timeout[] = [];
  private readonly pollers = new Map<string, string>();
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

  register(work: Work): void {
    this.works.set(work.name, work);
  }

  async start(): Promise<void> {
    await this.beat();
    const boss = new PgBoss({
      ...this.database.connection,
      max: 2,
      schema: 'pgboss',
      supervise: true,
    });
    boss.on('error', (error) => log.warn({ error: safeError(error) }, 'job queue'));
    await boss.start();
    this.boss = boss;
    for (const work of this.works.values()) {
      await boss.createQueue(work.name);
      const poller = await boss.work<{ id: number }>(
        work.name,
        { pollingIntervalSeconds: 2, batchSize: 20 },
        async (jobs) => {
          for (const job of jobs) void this.runNow(work.name, job.data.id);
        },
      );
      this.pollers.set(work.name, poller);
    }
    this.timers.push(
      setInterval(() => void this.quietly(() => this.beat()), BEAT_MS),
      setInterval(() => void this.quietly(() => this.sweep()), SWEEP_MS),
    );
    await this.sweep();
  }

  /** Asks for work on a thing, in the caller's transaction when there is one: it starts only if that commits. */
  async nudge(name: string, id: number, tx?: Db): Promise<void> {
    if (!this.boss) return; // before start the first sweep finds everything
    const db = tx && {
      executeSql: async (text: string, values: unknown[]) => ({
        rows: (await tx.execute(bind(text, values))).rows as object[],
      }),
    };
    await this.boss.send(name, { id }, db ? { db: db } : {});
    const poller = this.pollers.get(name);
    if (poller) setTimeout(() => this.boss?.notifyWorker(poller), tx ? 30 : 0);
  }

  /** Does it in this process at once, without waiting for the queue; one at a time per thing, a call during a run makes it run once more. */
  async runNow(name: string, id: number): Promise<void> {
    const thing = `${name} ${id}`;
    if (this.running.has(thing)) {
      this.again.add(thing);
      return;
    }
    const work = this.works.get(name);
    if (!work || this.stopping.signal.aborted) return;
    const run = (async () => {
      do {
        this.again.delete(thing);
        if (!(await this.claim(thing, work, id))) return;
        try {
          await work.run(id, this.stopping.signal);
          if (this.failing.delete(thing)) await forgetFailures(this.database.db, name, id);
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
        return this.failed(work, id, error).catch((cause: unknown) =>
          log.error({ thing, error: safeError(cause) }, 'a failure could not be written down'),
        );
      }),
    );
    await this.running.get(thing);
    this.running.delete(thing);
  }

  /** Work that fails the same way again and again stops, and says on the desk why; what passes is tried again. */
  private async failed(work: Work, id: number, error: unknown): Promise<void> {
    if (isPassing(error)) return;
    const { db } = this.database;
    this.failing.add(`${work.name} ${id}`);
    if ((await noteFailure(db, work.name, id, reasonOf(error))) >= MOST_FAILURES)
      await stopFailing(db, work.name, id, await work.what(id), this.clock.now());
  }

  /** Tries again what stands still, or leaves it as it is. False when it does not stand still. */
  async decide(name: string, id: number, how: 'again' | 'leave'): Promise<boolean> {
    const work = this.works.get(name);
    if (!work || !(await forgetFailures(this.database.db, name, id))) return false;
    this.failing.delete(`${name} ${id}`);
    if (how === 'leave') await work.leave(id);
    else void this.runNow(name, id);
    return true;
  }

  private async claim(
    thing: string,
    { name, isOutward = false }: Work,
    id: number,
  ): Promise<boolean> {
    const { rows } = await execute(
      this.database.db,
      sql`
      insert into claims (thing, worker) select ${thing}, ${this.worker}::uuid
      where not exists (select 1 from standstills where work = ${name} and thing = ${id} and stopped_at is not null)
        and not (${isOutward} and exists (select 1 from continuity where broken_by is not null))
      on conflict (thing) do update set worker = excluded.worker
        where claims.worker = excluded.worker or not exists (${this.living(sql`claims.worker`)})
      returning thing`,
    );
    return rows.length > 0;
  }

  private async release(thing: string): Promise<void> {
    await execute(
      this.database.db,
      sql`delete from claims where thing = ${thing} and worker = ${this.worker}`,
    );
  }

  /** A subquery with a row when that worker has beaten within the lease, or is this one: after an outage of the database its own beat is old, too. */
  living(worker: ReturnType<typeof sql>): ReturnType<typeof sql> {
    return sql`select 1 from workers w where w.id = ${worker} and (w.id = ${this.worker} or w.beat_at > ${new Date(this.clock.now().getTime() - this.config.leaseMs)})`;
  }

  private async beat(): Promise<void> {
    const now = this.clock.now();
    await execute(
      this.database.db,
      sql`insert into workers (id, beat_at) values (${this.worker}, ${now}) on conflict (id) do update set beat_at = excluded.beat_at`,
    );
  }

  private async sweep(): Promise<void> {
    if (this.stopping.signal.aborted) return;
    for (const work of this.works.values()) {
      for (const id of await work.unfinished()) void this.runNow(work.name, id);
    }
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
    await this.boss?.stop({ graceful: false, wait: true }).catch(() => undefined);
    await execute(this.database.db, sql`delete from workers where id = ${this.worker}`).catch(
      () => undefined,
    );
  }
}

/** Why work failed, in words that name nobody: what an error says of itself may quote people. */
function reasonOf(error: unknown): string {
  if (error instanceof Problem) return error.message;
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
