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

/** So many looks are taken at one statement. They are counted, not the time between them: a machine may sleep meanwhile. */
const LOOKS = 20;

const WATCH = `
const { workerData: { shared, every, looks, signal } } = require('node:worker_threads');
const running = new Int32Array(shared);
let seen = 0, times = 0;
setInterval(() => {
  const now = Atomics.load(running, 0);
  times = now !== 0 && now === seen ? times + 1 : 0;
  seen = now;
  if (times >= looks) process.kill(process.pid, signal);
}, every);
`;

export interface Deadline {
  begin(): void;
  end(): void;
}

/** Watches one statement after another. `most`: milliseconds. */
export function watchStatements(most = STATEMENT_MS): Deadline {
  const shared = new SharedArrayBuffer(4);
  const running = new Int32Array(shared);
  let number = 0;
  const watcher = new Worker(WATCH, {
    eval: true,
    workerData: { shared, every: most / LOOKS, looks: LOOKS, signal: OVERDUE },
    execArgv: [],
  });
  watcher.unref();
  return {
    begin: () => {
      number = (number % (2 ** 31 - 1)) + 1;
      Atomics.store(running, 0, number);
    },
    end: () => void Atomics.store(running, 0, 0),
  };
}
