// Ends the process when one statement takes too long. The database runs on the process's only thread, which can't look
// at a clock meanwhile; so another thread does. What was committed stays: the parent starts the database again.
import { Worker } from 'node:worker_threads';

/** As long as a statement may take, in milliseconds; reading and writing go in steps that are far shorter. */
export const STATEMENT_MS = 30_000;

/** What tidies and builds takes as long as it takes. */
const BOUNDED = /^\s*(?:select|with|insert|update|delete|merge|values|table)\b/i;
export const isBounded = (text: string): boolean => BOUNDED.test(text);

/** By this signal the process ends, so that the parent knows why. */
export const OVERDUE = 'SIGALRM';

const WATCH = `
const { workerData: { began, most, signal } } = require('node:worker_threads');
const clock = new Float64Array(began);
setInterval(() => {
  if (clock[0] > 0 && performance.timeOrigin + performance.now() - clock[0] > most) process.kill(process.pid, signal);
}, Math.min(500, most / 4));
`;

export interface Deadline {
  begin(): void;
  end(): void;
}

/** Watches one statement after another. `most`: milliseconds. */
export function watchStatements(most = STATEMENT_MS): Deadline {
  const began = new SharedArrayBuffer(8);
  const clock = new Float64Array(began);
  const watcher = new Worker(WATCH, {
    eval: true,
    workerData: { began, most, signal: OVERDUE },
    execArgv: [],
  });
  watcher.unref();
  return {
    begin: () => void (clock[0] = performance.timeOrigin + performance.now()),
    end: () => void (clock[0] = 0),
  };
}
