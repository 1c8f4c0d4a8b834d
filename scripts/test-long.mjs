// The tests that take their time: many kills, many operations, many odd requests. Node built-ins only.
import { spawnSync } from 'node:child_process';
import { build, root } from './build.mjs';
import { wasTested } from './rounds.mjs';
import { needNode, needPackages } from './setup.mjs';

needNode();
needPackages();
await build((text) => process.stdout.write(`${text}\n`));
const { status } = spawnSync(
  process.execPath,
  [
    '--experimental-vm-modules',
    '--no-warnings',
    'node_modules/jest/bin/jest.js',
    '--runInBand',
    'kill.test',
    'durability',
    'backup',
    'gateway',
    'native',
    'fuzz',
    ...process.argv.slice(2),
  ],
  {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, ROUND: 'long' },
  },
);
// Only the whole of it counts.
if (status === 0 && process.argv.length === 2) wasTested();
process.exit(status ?? 1);
