// Opens PGlite on a directory so that a commit is on the disk before it is answered.
import { closeSync, fsyncSync, openSync } from 'node:fs';
import { PGlite } from '@electric-sql/pglite';
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm';
import { NodeFS } from '@electric-sql/pglite/nodefs';
import type { Session } from './gateway.js';

type FileSystemHooks = { fsync?: (stream: { nfd?: number }) => void };
type Initialised = Awaited<ReturnType<NodeFS['init']>>;

/** PGlite's own file system never asks the disk to write; without this a power cut loses acknowledged commits. */
class DurableFs extends NodeFS {
  constructor(
    directory: string,
    private readonly onSync: (fd: number) => void,
  ) {
    super(directory);
  }

  override async init(...args: Parameters<NodeFS['init']>): Promise<Initialised> {
    const result = await super.init(...args);
    const hook = (module: { NODEFS?: { stream_ops: FileSystemHooks } }): void => {
      if (!module.NODEFS) throw new Error('this PGlite has no Node file system');
      module.NODEFS.stream_ops.fsync = (stream) => {
        if (stream.nfd !== undefined) this.onSync(stream.nfd);
      };
    };
    const before = result.emscriptenOpts.preRun ?? [];
    return {
      ...result,
      emscriptenOpts: {
        ...result.emscriptenOpts,
        preRun: [...(Array.isArray(before) ? before : [before]), hook],
      },
    };
  }
}

export interface OpenOptions {
  readonly directory: string;
  /** Replaces the real fsync in tests. */
  readonly onSync?: (fd: number) => void;
  /** Off only in the test that shows what would be lost, and in throw-away databases of tests. */
  readonly fsync?: boolean;
}

export interface OpenDatabase extends Session {
  close(): Promise<void>;
}

export async function openDatabase({
  directory,
  onSync = fsyncSync,
  fsync = true,
}: OpenOptions): Promise<OpenDatabase> {
  const params = PGlite.defaultStartParams.filter((param) => param !== '-F');
  const db = await PGlite.create({
    fs: new DurableFs(directory, onSync),
    extensions: { pg_trgm },
    relaxedDurability: false,
    startParams: [
      ...params,
      ...['-c', `fsync=${fsync ? 'on' : 'off'}`],
      ...['-c', 'wal_sync_method=fsync'],
      ...['-c', 'TimeZone=UTC'],
      // 64 MB each are small beside the 2 GiB the child may use, and keep sorts and index builds in memory.
      ...['-c', 'shared_buffers=512MB'],
      ...['-c', 'work_mem=64MB'],
      ...['-c', 'maintenance_work_mem=128MB'],
      ...['-c', 'random_page_cost=1.1'],
      ...['-c', 'jit=off'],
    ],
  });
  syncDirectory(directory);
  return {
    // By the stream: the other way reads every answer again for results of its own, and never lets go of them.
    exec: async (input) => {
      const parts: Uint8Array[] = [];
      await db.execProtocolRawStream(input, {
        syncToFs: false,
        onRawData: (part) => void parts.push(part.slice()),
      });
      return parts.length === 1 && parts[0] ? parts[0] : Buffer.concat(parts);
    },
    close: () => db.close(),
  };
}

/** New files are durable only once their directory is. */
function syncDirectory(directory: string): void {
  const handle = openSync(directory, 'r');
  try {
    fsyncSync(handle);
  } finally {
    closeSync(handle);
  }
}
