// Builds what is stale and runs the measurements. Node built-ins only.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { build, root } from './build.mjs';
import { needBrowser, needNode, needPackages } from './setup.mjs';

needNode();
needPackages();
needBrowser();
await build((text) => process.stdout.write(`${text}\n`));
await build(undefined, ['bench']);
const child = spawn(
  process.execPath,
  ['--expose-gc', join(root, 'bench/dist/main.js'), ...process.argv.slice(2)],
  { cwd: root, stdio: 'inherit' },
);
child.on('exit', (code) => process.exit(code ?? 1));
