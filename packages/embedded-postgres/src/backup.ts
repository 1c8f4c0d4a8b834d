// A copy of a running database: the server's own online backup, then its files, then the log written meanwhile.
// Source: PostgreSQL documentation, “Making a Base Backup Using the Low Level API”.
import { cpSync, existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { cp, readdir } from 'node:fs/promises';
import { join } from 'node:path';

/** Runs one statement; resolves with its rows. */
export type Query = (text: string) => Promise<Record<string, unknown>[]>;

/** Rows and a checksum of every table, by name; equal when the contents are, in whatever order. */
export type Fingerprint = Readonly<
  Record<string, { readonly rows: number; readonly checksum: string }>
>;

const LOCK_FILES = new Set(['postmaster.pid', 'postmaster.opts']);

/**
 * Copies the database that runs on `directory` to `target`, where it can be opened: opening it replays the
 * log, so that it holds all that was committed when the copy ended. Clients go on meanwhile.
 */
export async function copyRunning(query: Query, directory: string, target: string): Promise<void> {
  const start = (): Promise<unknown> => query("select pg_backup_start('palabra', true)");
  await start().catch(async (error: unknown) => {
    // A copy that was cut off left the session in this state.
    if (!/already in progress/.test(String(error))) throw error;
    await query('select pg_backup_stop(false)');
    await start();
  });
  const from = join(directory, 'pg');
  const to = join(target, 'pg');
  let label: string;
  try {
    await cp(from, to, {
      recursive: true,
      filter: (path) =>
        !path.slice(from.length).startsWith('/pg_wal/') &&
        !LOCK_FILES.has(path.slice(from.length + 1)),
    });
  } finally {
    const [row] = await query('select labelfile from pg_backup_stop(false)');
    label = String((row?.['labelfile'] as string | undefined) ?? '');
  }
  mkdirSync(join(to, 'pg_wal', 'archive_status'), { recursive: true });
  for (const name of await readdir(join(from, 'pg_wal')))
    if (/^[0-9A-F]{24}$/.test(name)) cpSync(join(from, 'pg_wal', name), join(to, 'pg_wal', name));
  writeFileSync(join(to, 'backup_label'), label);
  const first = /START WAL LOCATION: \S+ \(file ([0-9A-F]{24})\)/.exec(label)?.[1] ?? '';
  if (!existsSync(join(to, 'pg_wal', first)))
    throw new Error(
      'The database was too busy while it was copied: part of its log is gone already. Try again when no import or send is running.',
    );
}

/** Counts and checksums of all tables; reads everything once. */
export async function fingerprint(query: Query): Promise<Fingerprint> {
  const tables = await query(
    `select quote_ident(schemaname) || '.' || quote_ident(tablename) as name from pg_tables where schemaname not in ('pg_catalog', 'information_schema') order by 1`,
  );
  const found: Record<string, { rows: number; checksum: string }> = {};
  for (const { name } of tables) {
    const [row] = await query(
      `select count(*)::text as rows, coalesce(sum(hashtextextended(t::text, 0)::numeric), 0)::text as checksum from ${String(name)} t`,
    );
    found[String(name)] = { rows: Number(row?.['rows']), checksum: String(row?.['checksum']) };
  }
  return found;
}

/** Tables whose contents differ, in words. */
export function differences(expected: Fingerprint, found: Fingerprint): string[] {
  return [...new Set([...Object.keys(expected), ...Object.keys(found)])].flatMap((name) => {
    const [one, other] = [expected[name], found[name]];
    if (one?.checksum === other?.checksum && one?.rows === other?.rows) return [];
    return [
      `${name}: ${one ? `${one.rows} rows expected` : 'not expected'}, ${other ? `${other.rows} found` : 'none found'}`,
    ];
  });
}
