// Installs what is missing: packages, and for tests the browser. Node built-ins only.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './build.mjs';

const fail = (text) => {
  process.stderr.write(`${text}\n`);
  process.exit(1);
};

export function needNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 11))
    fail(`Palabra needs Node.js 20.11 or newer; this is ${process.versions.node}.`);
}

/** Installs the packages of the lock file when they are not there yet. */
export function needPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const stamp = join(root, 'node_modules', '.installed');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  process.stdout.write('installing packages …\n');
  const { status } = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (status !== 0)
    fail('The packages could not be installed. Is the network there? Try `npm ci` to see more.');
  writeFileSync(stamp, lock);
}

/** Debian's Chromium without windows, which journeys take three quarters of the time with; else the whole one. */
const BROWSERS = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'];
const APT = 'apt-get update && apt-get install -y --no-install-recommends chromium-headless-shell';

/** The browser that is there; undefined where none is. */
export const browser = () => BROWSERS.find((path) => existsSync(path));

/** Installs Debian's Chromium; without root it says how. */
export function needBrowser() {
  if (browser()) return;
  if (process.getuid?.() !== 0)
    fail(`The browser tests need Chromium. Run this once as root:\n  sudo sh -c '${APT}'`);
  process.stdout.write('installing Chromium …\n');
  const { status } = spawnSync('sh', ['-c', APT], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  });
  if (status !== 0 || !browser()) fail(`Chromium could not be installed. Try: ${APT}`);
}
