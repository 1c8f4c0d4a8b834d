// Bringing people in beside a bare COPY of the same rows; a look at a file beside bringing it in; a workbook beside the
// same rows as text.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { Writable } from 'node:stream';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Loader } from '@palabra/server/demo/copy';
import { openDatabase } from '@palabra/server/platform/database';
import excel from 'exceljs';
import { at, ms, perSecond, timed, type Row } from './measure.js';
import { memory, startServer, type RunningServer } from './world.js';

const PASSWORD = 'a long enough password';
export const mb = (bytes: number): string => `${Math.round(bytes / 1024 / 1024)} MB`;
export const rest = (wait: number): Promise<void> =>
  new Promise((resolve) => setTimeout(resolve, wait));

/** An office of its own, without people. */
export async function freshOffice(
  env: Record<string, string> = {},
): Promise<{ server: RunningServer; directory: string; again: () => Promise<RunningServer> }> {
  const directory = mkdtempSync(join(tmpdir(), 'palabra-bench-'));
  const signIn = { address: 'ines@example.com', password: PASSWORD };
  const start = (): Promise<RunningServer> =>
    startServer(directory, env, signIn, {
      officeName: 'Bench',
      postalAddress: '3 Walk',
      timeZone: 'UTC',
      name: 'Ines',
      ...signIn,
    });
  return { server: await start(), directory, again: start };
}

const csv = (rows: number, given = 'Given'): string =>
  `email,first name,surname,town,likes\n${Array.from({ length: rows }, (_, row) => `person${row}@example.com,${given} ${row % 997},Family ${row % 4999},Town ${row % 60},ferns ${row % 9}`).join('\n')}\n`;

interface ImportSeen {
  readonly id: number;
  readonly state: string;
  readonly plan: object;
  readonly planVersion: number;
  readonly look: { readonly isCurrent: boolean };
  readonly cursor: number;
}

/** Says how its people agreed, and begins. */
export async function begin(server: RunningServer, id: number): Promise<void> {
  const found = (await server.call('GET', `/api/imports/${id}`)).body as ImportSeen;
  const planned = await server.call('PUT', `/api/imports/${id}/plan`, {
    ...found.plan,
    version: found.planVersion,
    permission: 'asked',
    source: 'bench',
  });
  const { planVersion: version } = planned.body as ImportSeen;
  await server.call('POST', `/api/imports/${id}/start`, { version });
}

export async function startImport(
  server: RunningServer,
  rows: number,
  given?: string,
): Promise<() => Promise<ImportSeen>> {
  await server.call('POST', '/api/fields', { label: 'likes', type: 'text' }).catch(() => undefined);
  const { id } = (
    await server.call('POST', '/api/imports?name=bench.csv', csv(rows, given), {
      'content-type': 'text/csv',
    })
  ).body as ImportSeen;
  const look = async (): Promise<ImportSeen> =>
    (await server.call('GET', `/api/imports/${id}`)).body as ImportSeen;
  await begin(server, id);
  return look;
}

export async function bringIn(
  server: RunningServer,
  rows: number,
  given?: string,
): Promise<{ took: number; peak: number }> {
  const start = performance.now();
  const look = await startImport(server, rows, given);
  let peak = 0;
  while ((await look()).state !== 'done') {
    peak = Math.max(peak, await memory(server.pid));
    await rest(100);
  }
  return { took: performance.now() - start, peak };
}

/** `text[]` and `bytea[]`, by their keys in `pg_type`. */
const ARRAYS = [1009, 1001];

/** The rows that an import wrote, loaded again by COPY into empty tables with the same indexes. */
async function copyAgain(directory: string): Promise<number> {
  const database = await openDatabase({ dataDir: directory, databaseUrl: undefined, fsync: true });
  const client = await database.pool.connect();
  try {
    const tables = ['contacts', 'import_rows', 'change_items', 'happenings', 'permissions'];
    const kept = new Map<string, { columns: string[]; rows: unknown[][] }>();
    for (const table of tables) {
      const { rows, fields } = await client.query<Record<string, unknown>>(
        `select * from ${table}`,
      );
      const columns = fields.map(({ name }) => name);
      const arrays = new Set(
        fields.flatMap(({ name, dataTypeID }) => (ARRAYS.includes(dataTypeID) ? [name] : [])),
      );
      kept.set(table, {
        columns,
        rows: rows.map((row) =>
          columns.map((column) =>
            // Nobody in the file has further addresses.
            arrays.has(column) && (row[column] as unknown[]).length === 0 ? '{}' : row[column],
          ),
        ),
      });
    }
    for (const table of [...tables].reverse())
      await client.query(`truncate ${table} restart identity cascade`);
    await client.query('checkpoint');
    const start = performance.now();
    for (const [table, { columns, rows }] of kept) {
      const loader = new Loader(client, `${table} (${columns.join(', ')})`);
      for (const row of rows)
        await loader.add(
          ...row.map((cell) =>
            typeof cell === 'object' &&
            cell !== null &&
            !(cell instanceof Date) &&
            !Buffer.isBuffer(cell)
              ? JSON.stringify(cell)
              : (cell as string | number | null),
          ),
        );
      await loader.flush();
    }
    return performance.now() - start;
  } finally {
    client.release();
    await database.close();
  }
}

/** An office on a PostgreSQL server takes the same file, and once more. */
async function importedOn(
  databaseUrl: string,
  rows: number,
): Promise<{ first: string; again: string }> {
  const { server, directory } = await freshOffice({ DATABASE_URL: databaseUrl });
  try {
    const first = await bringIn(server, rows);
    const again = await bringIn(server, rows, 'Other');
    const says = (took: number): string => `${ms(took)}, ${perSecond(rows, took)}`;
    return { first: says(first.took), again: says(again.took) };
  } finally {
    await server.stop();
    rmSync(directory, { recursive: true, force: true });
  }
}

export async function importing(rows: number, databaseUrl: string | undefined): Promise<Row[]> {
  const { server, directory } = await freshOffice();
  try {
    const before = await memory(server.pid);
    const { took, peak } = await bringIn(server, rows);
    await server.stop();
    const copied = await copyAgain(directory);
    const onServer = databaseUrl === undefined ? undefined : await importedOn(databaseUrl, rows);
    return [
      {
        work: `import of ${rows.toLocaleString('en')} rows`,
        ours: `${ms(took)}, ${perSecond(rows, took)}`,
        against: `COPY of the same rows, ${ms(copied)}`,
        ratio: (took / copied).toFixed(2),
        aim: '≤ 3',
        ...(onServer ? { onServer: onServer.first } : {}),
      },
      ...(onServer
        ? [
            {
              work: 'the same file again, with other names',
              ours: '–',
              against: '–',
              ratio: '–',
              aim: 'stated',
              onServer: onServer.again,
            },
          ]
        : []),
      {
        work: 'memory of the server during the import',
        ours: `${mb(before)} before, ${mb(peak)} at most`,
        against: '–',
        ratio: '–',
        aim: 'flat',
      },
    ];
  } finally {
    rmSync(directory, { recursive: true, force: true });
  }
}

/** The same rows as a workbook. */
async function workbook(rows: number): Promise<Buffer> {
  const pieces: Buffer[] = [];
  const book = new excel.stream.xlsx.WorkbookWriter({
    stream: new Writable({
      write(piece: Buffer, _, done) {
        pieces.push(piece);
        done();
      },
    }),
    useSharedStrings: true,
  });
  const sheet = book.addWorksheet('Bench');
  for (const line of csv(rows).trimEnd().split('\n')) sheet.addRow(line.split(',')).commit();
  sheet.commit();
  await book.commit();
  return Buffer.concat(pieces);
}

/** Resident memory of the process that reads a workbook for a server, in bytes; 0 while there is none. */
function readerMemory(pid: number): number {
  const text = (path: string): string => {
    try {
      return readFileSync(path, 'utf8');
    } catch {
      return '';
    }
  };
  const children = text(`/proc/${pid}/task/${pid}/children`).split(' ').filter(Boolean);
  const reader = children.find((child) => text(`/proc/${child}/cmdline`).includes('workbook'));
  const kept = reader === undefined ? '' : text(`/proc/${reader}/status`);
  return 1024 * Number(/VmRSS:\s+(\d+)/.exec(kept)?.[1] ?? 0);
}

/** A file is looked at among as many people as it has rows; half of them change. */
export async function looking(rows: number): Promise<Row[]> {
  const { server, directory } = await freshOffice();
  const ask = async <T>(method: string, path: string, body?: unknown): Promise<T> =>
    (await server.call(method, path, body)).body as T;
  const upload = async (name: string, bytes: string | Buffer): Promise<string> => {
    const made = await server.call('POST', `/api/imports?name=${name}`, bytes, {
      'content-type': 'application/octet-stream',
    });
    return `/api/imports/${(made.body as { id: number }).id}`;
  };
  // As a page does that watches: it holds nothing up.
  const watching = { accept: 'text/event-stream' };
  const seen = async (path: string): Promise<void> => {
    const now = async (): Promise<ImportSeen> =>
      (await server.call('GET', path, undefined, watching)).body as ImportSeen;
    while (!(await now()).look.isCurrent) await rest(100);
  };
  try {
    const first = await bringIn(server, rows);
    const file = csv(rows).replaceAll(/(person\d*[13579]@.*),Town/g, '$1,Other');
    const before = await memory(server.pid);
    let start = performance.now();
    const path = await upload('look.csv', file);
    const read = performance.now() - start;
    await seen(path);
    const looked = performance.now() - start;
    const peak = await memory(server.pid);
    const page = await timed(40, (round) =>
      ask('GET', `${path}/rows?part=changed&from=${(round * 977) % (rows / 2)}`),
    );
    const mend = await timed(20, (round) =>
      ask('POST', `${path}/rows/${1 + ((round * 4999) % rows)}`, {
        cells: { 3: `Mended ${round}` },
      }),
    );
    await seen(path);
    await ask('DELETE', path);
    const book = await workbook(rows);
    let most = 0;
    const watch = setInterval(() => (most = Math.max(most, readerMemory(server.pid))), 20);
    start = performance.now();
    const sheet = await upload('look.xlsx', book);
    const unpacked = performance.now() - start;
    clearInterval(watch);
    await ask('DELETE', sheet);
    return [
      {
        work: `a look at ${rows.toLocaleString('en')} rows, half of which change somebody`,
        ours: `${ms(looked)}, ${perSecond(rows, looked)}`,
        against: `bringing the same rows in, ${ms(first.took)}`,
        ratio: (looked / first.took).toFixed(2),
        aim: '≤ 0.5',
      },
      {
        work: 'memory of the server during the look',
        ours: `${mb(before)} before, ${mb(peak)} after`,
        against: '–',
        ratio: '–',
        aim: 'flat',
      },
      {
        work: 'a page of its rows, anywhere',
        ours: `${ms(at(page, 0.5))}, p95 ${ms(at(page, 0.95))}`,
        against: '–',
        ratio: '–',
        aim: 'p95 ≤ 100 ms',
      },
      {
        work: 'a cell mended, until it is said what its row does now',
        ours: `${ms(at(mend, 0.5))}, p95 ${ms(at(mend, 0.95))}`,
        against: '–',
        ratio: '–',
        aim: 'p95 ≤ 100 ms',
      },
      {
        work: `a workbook of ${rows.toLocaleString('en')} rows (${mb(book.length)}), until its columns are there`,
        ours: `${ms(unpacked)}, ${mb(most)} at most`,
        against: `the same rows as text, ${ms(read)}`,
        ratio: (unpacked / read).toFixed(2),
        aim: '≤ 150 MB',
      },
    ];
  } finally {
    await server.stop();
    rmSync(directory, { recursive: true, force: true });
  }
}
