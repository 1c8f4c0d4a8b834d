// Whoever started a script: when they are gone, it should end, too. Node built-ins only.
import { readFileSync } from 'node:fs';

const EVERY_MS = 500;

/** The parent of a process, or undefined where the system doesn't say. */
function parentOf(pid) {
  try {
    return Number(/^PPid:\s*(\d+)/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]);
  } catch {
    return undefined;
  }
}

/**
 * Calls `tell` once when npm, which started this, is gone. npm starts a shell that starts the script: the shell waits
 * for the script, so that its parent is looked at as well. Started by hand, a script outlives its shell and nobody is watched.
 */
export function whenAbandoned(tell) {
  if (!process.env.npm_lifecycle_event) return;
  const shell = process.ppid;
  const npm = parentOf(shell);
  const timer = setInterval(() => {
    if (process.ppid === shell && (npm === undefined || parentOf(shell) === npm)) return;
    clearInterval(timer);
    tell();
  }, EVERY_MS);
  timer.unref();
}
