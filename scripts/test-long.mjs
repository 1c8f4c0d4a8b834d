// The tests that take their time: many kills, many operations, many odd requests. Node built-ins only.
import { spawnSync } from 'node:child_process';
import { build, root } from './build.mjs';
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
    'gateway',
    'native',
    'fuzz',
    ...process.argv.slice(2),
  ],
  {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, LONG: 'yes', FUZZ_RUNS: '200' },
  },
);
process.exit(status ?? 1);
