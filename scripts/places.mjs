// Where the office's data is, the same for every command. Node built-ins only.
import { join, resolve } from 'node:path';
import { root } from './build.mjs';

const args = process.argv.slice(2);
export const demo = args.includes('--demo');
export const option = (name) => {
  const at = args.indexOf(name);
  return at < 0 ? undefined : args[at + 1];
};
/** Arguments that are neither options nor their values. */
export const plain = args.filter(
  (arg, at) => !arg.startsWith('--') && !['--contacts', '--port'].includes(args[at - 1] ?? ''),
);
export const contacts = option('--contacts') ?? '12000';
export const base = process.env.DATA_DIR
  ? resolve(process.env.DATA_DIR)
  : join(root, '.palabra', demo ? `demo-${contacts}` : 'office');
export const dataDir = join(base, 'data');
export const stop = (text) => {
  process.stderr.write(`${text}\n`);
  process.exit(1);
};
