// One process per data directory. The lock names the process and the moment it started, so that a
// process number used again by something else does not keep an office out of its own data.
import { closeSync, openSync, readFileSync, rmSync, writeSync } from 'node:fs';
import { join } from 'node:path';

export class DirectoryInUse extends Error {
  constructor(
    directory: string,
    readonly pid: number,
  ) {
    super(
      `The data directory ${directory} is in use by process ${pid}. Stop that one first, or name another directory.`,
    );
    this.name = 'DirectoryInUse';
  }
}

/** Start time of a process in clock ticks after boot (field 22 of /proc/PID/stat), or undefined when it is gone. */
function startedAt(pid: number): string | undefined {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    return fields[0] === 'Z' ? undefined : fields[19];
  } catch {
    try {
      process.kill(pid, 0);
      return 'unknown';
    } catch {
      return undefined;
    }
  }
}

function tryLock(file: string): number | undefined {
  try {
    const handle = openSync(file, 'wx');
    writeSync(handle, `${process.pid} ${startedAt(process.pid) ?? 'unknown'}`);
    closeSync(handle);
    return undefined;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  }
  const [pid = '0', started = ''] = readFileSync(file, 'utf8').split(' ');
  const now = startedAt(Number(pid));
  if (now !== undefined && (now === started || started === '')) return Number(pid);
  rmSync(file, { force: true });
  return tryLock(file);
}

/** Takes the directory for this process, waiting up to `patience` milliseconds for one that is just stopping. Returns the release. */
export async function lockDirectory(directory: string, patience = 5000): Promise<() => void> {
  const file = join(directory, 'palabra.lock');
  const until = Date.now() + patience;
  for (;;) {
    const holder = tryLock(file);
    if (holder === undefined) return () => rmSync(file, { force: true });
    if (Date.now() >= until) throw new DirectoryInUse(directory, holder);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}
