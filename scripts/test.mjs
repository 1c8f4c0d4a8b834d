// Everything: checks, build, browser journeys. The last line adds all of them up. Node built-ins only.
import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { build, root } from './build.mjs';
import { check } from './check.mjs';
import { needBrowser, needNode, needPackages } from './setup.mjs';

needNode();
needPackages();
needBrowser();
const { passed, failed } = await check();
const total = { passed, failed };

try {
  await build((text) => process.stdout.write(`${text}\n`));
  const results = join(root, '.cache', 'journeys.json');
  rmSync(results, { force: true });
  process.stdout.write('\n— browser journeys\n');
  spawnSync(process.execPath, [join(root, 'node_modules/@playwright/test/cli.js'), 'test'], {
    cwd: join(root, 'e2e'),
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  const { stats, errors } = JSON.parse(readFileSync(results, 'utf8'));
  total.passed += stats.expected + stats.flaky;
  total.failed += stats.unexpected + (errors?.length ?? 0);
  if (stats.flaky > 0)
    process.stdout.write(`\n${stats.flaky} of the journeys needed a second try; see above which\n`);
} catch (error) {
  process.stdout.write(`${error instanceof Error ? error.message : error}\n`);
  total.failed += 1;
}
process.stdout.write(`\n${total.passed} passed, ${total.failed} failed\n`);
process.exit(total.failed === 0 ? 0 : 1);
