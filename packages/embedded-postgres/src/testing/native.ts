// A PostgreSQL server of this machine, to compare with.
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, openSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';

export interface Native {
  readonly client: pg.Client;
  /** For more clients. */
  readonly connection: { readonly host: string; readonly user: string; readonly database: string };
  stop(): Promise<void>;
}

function programs(): string | undefined {
  const versions = existsSync('/usr/lib/postgresql') ? readdirSync('/usr/lib/postgresql') : [];
  return versions
    .map((version) => `/usr/lib/postgresql/${version}/bin`)
    .find((path) => existsSync(join(path, 'initdb')));
}

export const isNativeThere = (): boolean => programs() !== undefined;

/** A PostgreSQL server of this machine on a throw-away cluster, or undefined where none is installed. What it says goes to the file `log`. */
export async function startNative({
  settings = {},
  log,
}: { settings?: Readonly<Record<string, string>>; log?: string } = {}): Promise<
  Native | undefined
> {
  const bin = programs();
  if (!bin) return undefined;
  // A server refuses to run as root; Debian's package brings an account for it.
  const number = (flag: string): number => Number(spawnSync('id', [flag, 'postgres']).stdout);
  const who = process.getuid?.() === 0 ? { uid: number('-u'), gid: number('-g') } : {};
  const directory = mkdtempSync(join(tmpdir(), 'palabra-native-'));
  chmodSync(directory, 0o777);
  const data = join(directory, 'data');
  if (
    spawnSync(
      join(bin, 'initdb'),
      ['-D', data, '-U', 'postgres', '--auth=trust', '-E', 'UTF8', '--locale=C'],
      who,
    ).status !== 0
  )
    return undefined;
  const server: ChildProcess = spawn(
    join(bin, 'postgres'),
    [
      ...['-D', data, '-k', directory, '-h', ''],
      ...Object.entries(settings).flatMap(([name, value]) => ['-c', `${name}=${value}`]),
    ],
    { ...who, stdio: ['ignore', 'ignore', log === undefined ? 'ignore' : openSync(log, 'w')] },
  );
  for (let left = 100; left > 0; left--) {
    const connection = { host: directory, user: 'postgres', database: 'postgres' };
    const client = new pg.Client(connection);
    try {
      await client.connect();
      return {
        client,
        connection,
        stop: async () => {
          await client.end();
          server.kill('SIGINT');
          await new Promise((resolve) => server.once('exit', resolve));
          rmSync(directory, { recursive: true, force: true });
        },
      };
    } catch {
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }
  server.kill();
  return undefined;
}
