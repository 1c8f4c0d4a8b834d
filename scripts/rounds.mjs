// The suites that take their time run in a short round, unless what they cover changed since they ran in full:
// `npm run test:long` leaves a hash of it behind. Node built-ins only.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fingerprint, root } from './build.mjs';

/** Kills, durability, the gateway, backups: all of it stands on these. */
const COVERED = [
  'packages/embedded-postgres',
  ...['platform', 'delivery', 'intake', 'contacts'].map((part) => `apps/server/src/${part}`),
];
const FILE = join(root, 'scripts', 'tested-long.json');

export const covered = () => fingerprint(COVERED);

/** Says `short`, or `longer` where a covered source is not the one that was tested in full. */
export function round() {
  try {
    return JSON.parse(readFileSync(FILE, 'utf8')).covered === covered() ? 'short' : 'longer';
  } catch {
    return 'longer';
  }
}

export const wasTested = () =>
  writeFileSync(FILE, `${JSON.stringify({ covered: covered() }, null, 2)}\n`);
