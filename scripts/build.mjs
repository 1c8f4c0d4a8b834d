// Compiles what changed: packages and server by swc, the interface by Vite. Node built-ins only.
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = dirname(dirname(fileURLToPath(import.meta.url)));

const parts = {
  'packages/core': [],
  'packages/contract': [],
  'packages/embedded-postgres': [],
  'packages/outside': [],
  // What it answers is described from the types of the other two.
  'apps/server': ['packages/core', 'packages/contract'],
  'apps/web': ['packages/core', 'packages/contract'],
  bench: ['apps/server'],
};

function* filesIn(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) =>
    a.name < b.name ? -1 : 1,
  )) {
    if (entry.name === 'dist' || entry.name === 'node_modules') continue;
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* filesIn(path);
    else yield path;
  }
}

/** Of what is built from folders; tests don't count. */
export function fingerprint(folders) {
  const hash = createHash('sha256');
  for (const folder of folders) {
    for (const file of filesIn(join(root, folder))) {
      if (/\.(test|spec)\.tsx?$/.test(file)) continue;
      hash.update(file.slice(root.length)).update(readFileSync(file));
    }
  }
  hash
    .update(readFileSync(join(root, '.swcrc')))
    .update(readFileSync(join(root, 'package-lock.json')));
  return hash.digest('hex');
}

export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      cwd: root,
      stdio: ['ignore', 'pipe', 'pipe'],
      ...options,
    });
    let output = '';
    child.stdout?.on('data', (chunk) => (output += chunk));
    child.stderr?.on('data', (chunk) => (output += chunk));
    child.on('error', reject);
    child.on('exit', (code) =>
      code === 0
        ? resolve(output)
        : reject(new Error(`${command} ${args.join(' ')} failed:\n${output}`)),
    );
  });
}

async function compile(part) {
  const folder = join(root, part);
  if (part === 'apps/web')
    return run(
      process.execPath,
      [join(root, 'node_modules/vite/bin/vite.js'), 'build', '--logLevel', 'warn'],
      { cwd: folder },
    );
  rmSync(join(folder, 'dist'), { recursive: true, force: true });
  await run(
    process.execPath,
    [
      join(root, 'node_modules/@swc/cli/bin/swc.js'),
      'src',
      '-d',
      'dist',
      '--strip-leading-paths',
      '--config-file',
      join(root, '.swcrc'),
      '--ignore',
      '**/*.test.ts',
    ],
    { cwd: folder },
  );
  if (part === 'apps/server') await run(process.execPath, [join(root, 'scripts/replies.mjs')]);
}

/** Builds what is stale; `tell` hears what is being built. */
export async function build(
  tell = () => undefined,
  only = Object.keys(parts).filter((part) => part !== 'bench'),
) {
  for (const part of only) {
    if (!existsSync(join(root, part, 'src'))) continue;
    const stamp = join(root, part, 'dist', '.built');
    const wanted = fingerprint([part, ...parts[part]]);
    if (existsSync(stamp) && statSync(stamp).isFile() && readFileSync(stamp, 'utf8') === wanted)
      continue;
    tell(`building ${part}`);
    await compile(part);
    mkdirSync(dirname(stamp), { recursive: true });
    writeFileSync(stamp, wanted);
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  await build((text) => process.stdout.write(`${text}\n`));
}
