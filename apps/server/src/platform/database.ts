// The database: embedded or a server, the same code. Everything outside a transaction goes through
// `db`; inside one, only through the transaction's own handle.
import { AsyncLocalStorage } from 'node:async_hooks';
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  MIGRATIONS,
  OVERDUE,
  STATEMENT_MS,
  startEmbedded,
  type EmbeddedPostgres,
} from '@palabra/embedded-postgres';
import { fillPlaceholders, type ExtractTablesWithRelations, type SQL } from 'drizzle-orm';
import type { NodePgDatabase, NodePgQueryResultHKT } from 'drizzle-orm/node-postgres';
import { drizzle } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { PgDialect, type PgTransaction } from 'drizzle-orm/pg-core';
import pg from 'pg';
import type { Config } from './config.js';
import { log } from './log.js';

type Nothing = Record<string, never>;
export type Target =
  | {
      readonly host: string;
      readonly port: number;
      readonly user: string;
      readonly database: string;
    }
  | { readonly connectionString: string };
export type Transaction = PgTransaction<
  NodePgQueryResultHKT,
  Nothing,
  ExtractTablesWithRelations<Nothing>
>;
/** What a store needs: the database or a transaction in it. */
export type Db = NodePgDatabase<Nothing> | Transaction;

const dialect = new PgDialect({ casing: 'snake_case' });

const INT8 = 20;
const NUMERIC = 1700;
pg.types.setTypeParser(INT8, Number);
pg.types.setTypeParser(NUMERIC, Number);

const TIMESTAMPTZ = 1184;
const parseMoment = pg.types.getTypeParser(TIMESTAMPTZ) as (text: string) => Date;

/** Runs a statement written by hand. Drizzle leaves moments as text there; here they become dates, as everywhere else. */
export async function execute<Row extends Record<string, unknown>>(
  db: Db,
  statement: SQL,
): Promise<{ rows: Row[] }> {
  const result = await db.execute(statement);
  const moments = result.fields
    .filter(({ dataTypeID }) => dataTypeID === TIMESTAMPTZ)
    .map(({ name }) => name);
  if (moments.length > 0) {
    for (const row of result.rows) {
      for (const name of moments) {
        const value = row[name];
        if (typeof value === 'string') row[name] = parseMoment(value);
      }
    }
  }
  return { rows: result.rows as Row[] };
}

/** The connection went, or the database is starting again: nothing is known to be wrong with the statement. */
export function isConnectionLost(error: unknown): boolean {
  const { code, message, cause } = (error ?? {}) as {
    code?: string;
    message?: string;
    cause?: unknown;
  };
  if (
    code === 'ECONNRESET' ||
    code === 'ECONNREFUSED' ||
    code === 'ENOENT' ||
    code === 'EPIPE' ||
    code === '57P01' ||
    code === '57P03'
  )
    return true;
  if (
    message &&
    /Connection terminated|Client has encountered a connection error|timeout exceeded when trying to connect/.test(
      message,
    )
  )
    return true;
  return cause !== undefined && cause !== error && isConnectionLost(cause);
}

/** Whether the same may well succeed a little later: the connection went, or a server ended this one to break a deadlock (40P01). */
export function isPassing(error: unknown): boolean {
  const { code, cause } = (error ?? {}) as { code?: string; cause?: unknown };
  return (
    isConnectionLost(error) ||
    code === '40P01' ||
    (cause !== undefined && cause !== error && isPassing(cause))
  );
}

const TRIES = 3;

/** A deadlock or a serialisation failure: nothing of the transaction is there. */
function isRolledBackByServer(error: unknown): boolean {
  const { code, cause } = (error ?? {}) as { code?: string; cause?: unknown };
  return (
    code === '40P01' ||
    code === '40001' ||
    (cause !== undefined && cause !== error && isRolledBackByServer(cause))
  );
}

const PATIENCE_MS = 60_000;

/** Tries again as long as the trouble passes. Only for work that may be done twice: whether the last try was committed is not known. */
export async function patiently<T>(work: () => Promise<T>): Promise<T> {
  const end = performance.now() + PATIENCE_MS;
  for (let wait = 50; ; wait = Math.min(wait * 2, 1000)) {
    try {
      return await work();
    } catch (error) {
      if (!isPassing(error) || performance.now() > end) throw error;
      await new Promise((resolve) => setTimeout(resolve, wait));
    }
  }
}

/** Marks what runs inside a transaction, in tests and development: there the root handle would wait for itself, for ever. */
const inside =
  process.env['NODE_ENV'] === 'test' || process.env['NODE_ENV'] === 'development'
    ? new AsyncLocalStorage<{ isOver: boolean }>()
    : undefined;

function refuseInside(): void {
  if (inside?.getStore()?.isOver === false)
    throw new Error('the root handle was used inside a transaction: use the transaction’s own');
}

const READS = /^\s*select\b/i;

/** Reads in flight when the database restarts are tried once more; writes are answered 503 by the filter. */
class PatientPool extends pg.Pool {
  // The signature of pg's query has a dozen overloads; all of them pass through unchanged.
  override query = ((...args: unknown[]) => {
    refuseInside();
    const run = (): Promise<unknown> =>
      (pg.Pool.prototype.query as (...args: unknown[]) => Promise<unknown>).apply(this, args);
    const first = args[0] as string | { text?: string };
    const text = typeof first === 'string' ? first : first.text;
    if (
      typeof args.at(-1) === 'function' ||
      !text ||
      !READS.test(text) ||
      /\bfor (update|share)\b/i.test(text)
    )
      return run();
    const started = performance.now();
    return run().catch(async (error: unknown) => {
      // What ended the database by taking too long would do so again.
      if (!isConnectionLost(error) || performance.now() - started > STATEMENT_MS / 2) throw error;
      await new Promise((resolve) => setTimeout(resolve, 300));
      return run();
    });
  }) as typeof pg.Pool.prototype.query;
}

/** A statement with placeholders, written once. */
export interface Repeated {
  readonly name: string;
  readonly text: string;
  readonly params: readonly unknown[];
}

/** The name stands for the text on every connection, so no two may share one. */
export function repeated(name: string, statement: SQL): Repeated {
  const { sql: text, params } = dialect.sqlToQuery(statement);
  return { name, text, params };
}

export class Database {
  readonly db: NodePgDatabase<Nothing>;

  constructor(
    readonly pool: pg.Pool,
    readonly connection: Target,
    private readonly embedded: EmbeddedPostgres | undefined,
  ) {
    this.db = drizzle(pool, { casing: 'snake_case' });
  }

  /** Runs a statement that comes again and again: each connection plans it once. */
  async again<Row extends Record<string, unknown>>(
    { name, text, params }: Repeated,
    values: Record<string, unknown>,
  ): Promise<{ rows: Row[] }> {
    return this.pool.query<Row>({ name, text, values: fillPlaceholders([...params], values) });
  }

  /**
   * Runs `work` in a transaction on a connection of its own, which goes back to the pool whatever happens. A server
   * may end it to break a deadlock; then it is done again from the beginning, so that `work` must change nothing else.
   */
  async transaction<T>(work: (tx: Transaction) => Promise<T>): Promise<T> {
    refuseInside();
    for (let left = TRIES - 1; ; left--) {
      try {
        return await this.tryTransaction(work);
      } catch (error) {
        if (left === 0 || !isRolledBackByServer(error)) throw error;
        await new Promise((resolve) => setTimeout(resolve, 20 + Math.random() * 80));
      }
    }
  }

  private async tryTransaction<T>(work: (tx: Transaction) => Promise<T>): Promise<T> {
    const client = await this.pool.connect();
    let broken: Error | undefined;
    const mark = { isOver: false };
    try {
      const run = (): Promise<T> => drizzle(client, { casing: 'snake_case' }).transaction(work);
      return await (inside ? inside.run(mark, run) : run());
    } catch (error) {
      if (isConnectionLost(error)) broken = error as Error;
      throw error;
    } finally {
      // What was begun inside and goes on behind it may use any handle.
      mark.isOver = true;
      client.release(broken);
    }
  }

  get isEmbedded(): boolean {
    return this.embedded !== undefined;
  }

  /** Process number of the embedded database, for tests. */
  childPid(): number | undefined {
    return this.embedded?.pid();
  }

  async close(): Promise<void> {
    await this.pool.end();
    await this.embedded?.stop();
  }
}

function migrationsFolder(): string {
  let folder = dirname(fileURLToPath(import.meta.url));
  while (!existsSync(join(folder, 'drizzle'))) folder = dirname(folder);
  return join(folder, 'drizzle');
}

async function bringUpToDate(connection: Target): Promise<void> {
  const pool = new pg.Pool({ ...connection, max: 1, application_name: MIGRATIONS });
  try {
    await migrate(drizzle(pool, { casing: 'snake_case' }), {
      migrationsFolder: migrationsFolder(),
    });
  } finally {
    await pool.end();
  }
}

/** A server translates what it takes for long work into machine code, which takes it longer than our longest statement. The pool waits for the answer. */
const withoutJit = ((client) => client.query('set jit = off')) satisfies (
  client: pg.ClientBase,
) => Promise<unknown> as (client: pg.ClientBase) => void;

/** Starts or reaches the database and brings its schema up to date. */
export async function openDatabase(
  config: Pick<Config, 'dataDir' | 'databaseUrl' | 'fsync'>,
): Promise<Database> {
  const embedded = config.databaseUrl
    ? undefined
    : await startEmbedded({
        directory: config.dataDir,
        fsync: config.fsync,
        onRestart: (code, signal) =>
          log.error(
            { code, signal },
            signal === OVERDUE
              ? 'a statement took too long: the database process was ended, and is being started again'
              : 'the database process ended and is being started again',
          ),
      });
  const connection: Target = embedded
    ? embedded.connection
    : { connectionString: config.databaseUrl ?? '' };
  try {
    await bringUpToDate(connection);
  } catch (error) {
    await embedded?.stop();
    throw error;
  }
  const pool = new PatientPool({
    ...connection,
    max: 10,
    connectionTimeoutMillis: 20_000,
    ...(embedded ? {} : { onConnect: withoutJit }),
  });
  // A connection that breaks while a transaction holds it tells its statements; without a listener it would end the process.
  pool.on('connect', (client) => client.on('error', () => undefined));
  pool.on('error', (error) =>
    log.warn(
      { code: (error as NodeJS.ErrnoException).code },
      'an idle database connection was lost',
    ),
  );
  return new Database(pool, connection, embedded);
}
