// The same work on a PostgreSQL server, where Debian's is installed; with `--plans` it says which statements took long
// and by which plan.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startNative } from '@palabra/embedded-postgres/testing/native';

/** Statements that take longer are explained, in milliseconds. */
const LONG = 50;

export interface Postgres {
  /** A database of its own for some work: its address. */
  readonly database: (name: string) => Promise<string>;
  /** The slowest statements so far, each by its longest run, with its plan. */
  readonly slowest: (count: number) => string[];
  readonly stop: () => Promise<void>;
}

export async function startPostgres(explains: boolean): Promise<Postgres | undefined> {
  const directory = mkdtempSync(join(tmpdir(), 'palabra-bench-pg-'));
  const log = join(directory, 'log');
  const native = await startNative({
    log,
    // As a small server would be set; nothing is switched off that keeps data safe.
    settings: {
      shared_buffers: '512MB',
      effective_cache_size: '2GB',
      work_mem: '16MB',
      ...(explains
        ? {
            shared_preload_libraries: 'auto_explain',
            'auto_explain.log_min_duration': String(LONG),
            'auto_explain.log_analyze': 'on',
            'auto_explain.log_timing': 'off',
            'auto_explain.log_nested_statements': 'on',
          }
        : {}),
    },
  });
  if (!native) {
    rmSync(directory, { recursive: true, force: true });
    return undefined;
  }
  return {
    database: async (name) => {
      await native.client.query(`create database ${name}`);
      return `postgres://postgres@localhost/${name}?host=${encodeURIComponent(native.connection.host)}`;
    },
    slowest: (count) => slowestOf(readFileSync(log, 'utf8'), count),
    stop: async () => {
      await native.stop();
      rmSync(directory, { recursive: true, force: true });
    },
  };
}

/** Groups what auto_explain wrote by statement and keeps the longest run of each. */
export function slowestOf(log: string, count: number): string[] {
  const longest = new Map<string, { took: number; times: number; text: string }>();
  for (const entry of log.split(/\n(?=\d{4}-\d\d-\d\d )/)) {
    const [, took, plan] = /duration: ([\d.]+) ms {2}plan:\n([\s\S]*)/.exec(entry) ?? [];
    if (took === undefined || plan === undefined) continue;
    const statement = plan.slice(0, 400).replace(/\s+/g, ' ').replace(/\d+/g, '0');
    const before = longest.get(statement);
    const times = (before?.times ?? 0) + 1;
    longest.set(
      statement,
      before && before.took >= Number(took)
        ? { ...before, times }
        : { took: Number(took), times, text: plan },
    );
  }
  return [...longest.values()]
    .sort((one, other) => other.took - one.took)
    .slice(0, count)
    .map(
      ({ took, times, text }) => `${took.toFixed(0)} ms, ${times} times over ${LONG} ms\n${text}`,
    );
}
