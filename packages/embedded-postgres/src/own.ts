// The office's data is for the user who runs Palabra and for nobody else on the machine.
import { chmodSync, mkdirSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';

/** What this process makes from now on is readable and writable for its own user only. */
export const keepToOneself = (): void => void process.umask(0o077);

/** Makes a directory for one user, or takes everybody else out of one that is there. */
export function ownDirectory(directory: string): void {
  mkdirSync(directory, { recursive: true, mode: 0o700 });
  if ((statSync(directory).mode & 0o077) === 0) return;
  try {
    chmodSync(directory, 0o700);
  } catch (cause) {
    throw new Error(
      `Others on this machine can read the data directory ${directory}, and this user may not change that. Run: chmod 700 ${directory}`,
      { cause },
    );
  }
}

/** Takes everybody else out of the files, too: a new database makes its first ones open to all, whatever the mask says. */
export function ownFiles(directory: string): void {
  for (const entry of readdirSync(directory, { withFileTypes: true })) {
    const path = join(directory, entry.name);
    if (entry.isDirectory()) ownFiles(path);
    else if (entry.isFile() && (statSync(path).mode & 0o077) !== 0) chmodSync(path, 0o600);
  }
}
