// Types, lint, import rules and unit tests. Node built-ins only; installs what is missing.
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build, root } from './build.mjs';
import { round } from './rounds.mjs';
import { needNode, needPackages } from './setup.mjs';

const bin = (path) => join(root, 'node_modules', path);
const node = (title, args) => {
  process.stdout.write(`\n— ${title}\n`);
  const { status } = spawnSync(process.execPath, args, {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  return status === 0;
};

/** The same beside others; what it says comes out at its end, in one piece. */
const nodeBeside = (title, args) =>
  new Promise((resolve) => {
    const child = spawn(process.execPath, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
    let said = '';
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (chunk) => (said += chunk));
    child.on('close', (status) => {
      process.stdout.write(`\n— ${title}\n${said}`);
      resolve([title, status === 0]);
    });
  });

/** Runs all checks; returns how many unit tests passed and failed, and whether the rest is in order. */
export async function check() {
  needNode();
  needPackages();
  mkdirSync(join(root, '.cache'), { recursive: true });
  // The database tests run the built child process.
  await build(
    (text) => process.stdout.write(`${text}\n`),
    [
      'packages/core',
      'packages/contract',
      'packages/embedded-postgres',
      'packages/outside',
      'apps/server',
    ],
  );
  const steps = Object.fromEntries(
    await Promise.all([
      nodeBeside('types of server and packages', [
        bin('typescript/bin/tsc'),
        '-p',
        'tsconfig.json',
      ]),
      nodeBeside('types of the interface', [
        bin('typescript/bin/tsc'),
        '-p',
        'apps/web/tsconfig.json',
      ]),
      nodeBeside('formatting', [
        bin('prettier/bin/prettier.cjs'),
        '--check',
        '--log-level=warn',
        '--cache',
        '--cache-location=.cache/prettier',
        '.',
      ]),
      // Without a cache: what a rule says of a file hangs on the types of others.
      nodeBeside('lint', [bin('eslint/bin/eslint.js'), '.']),
      nodeBeside('import rules', [
        bin('dependency-cruiser/bin/dependency-cruise.mjs'),
        'packages',
        'apps/server/src',
        'apps/web/src',
        '--config',
        '.dependency-cruiser.cjs',
      ]),
    ]),
  );
  const results = join(root, '.cache', 'unit.json');
  process.env['ROUND'] ??= round();
  if (process.env['ROUND'] === 'longer')
    process.stdout.write(
      '\nwhat the long suites cover was changed since `npm run test:long` ran: they run a longer round\n',
    );
  const unit = node('unit tests', [
    '--experimental-vm-modules',
    '--no-warnings',
    bin('jest/bin/jest.js'),
    '--json',
    `--outputFile=${results}`,
    '--silent=false',
  ]);
  let counts = { passed: 0, failed: 1 };
  try {
    const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(
      readFileSync(results, 'utf8'),
    );
    counts = { passed: numPassedTests, failed: numFailedTests + numRuntimeErrorTestSuites };
  } catch {
    // no results: counted as one failure
  }
  const broken = Object.keys(steps).filter((step) => !steps[step]);
  for (const step of broken) process.stdout.write(`not in order: ${step}\n`);
  return {
    passed: counts.passed + Object.keys(steps).length - broken.length,
    failed: counts.failed + broken.length + (unit || counts.failed > 0 ? 0 : 1),
  };
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const { passed, failed } = await check();
  process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
  process.exit(failed === 0 ? 0 : 1);
}
