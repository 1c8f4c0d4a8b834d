// Prints ratio tables; each pair is measured in turn in the same run. `--contacts 100000` (or `10000,100000`) says
// how large the world is, `--only requests,rules` which tables to make.
import { gzipSync } from 'node:zlib';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { gateway } from './gateway.js';
import { ms, table, type Row } from './measure.js';
import { requests } from './requests.js';
import { rules } from './rules.js';
import { addresses, importing, letters, meanwhile, sending } from './work.js';

const root = join(import.meta.dirname, '..', '..');
const option = (name: string): string | undefined => {
  const place = process.argv.indexOf(name);
  return place < 0 ? undefined : process.argv[place + 1];
};
const sizes = (option('--contacts') ?? '12000').split(',').map(Number);
const only = option('--only')?.split(',');
const wanted = (name: string): boolean => only === undefined || only.includes(name);
const biggest = Math.max(...sizes);

/** What the browser loads before the desk can be used: the page's own scripts and what they import at once. */
function firstLoad(): Row[] {
  const dist = join(root, 'apps/web/dist');
  if (!existsSync(join(dist, 'index.html'))) return [];
  const page = readFileSync(join(dist, 'index.html'), 'utf8');
  const named = [...page.matchAll(/(?:src|href)="\/(assets\/[^"]+\.js)"/g)].map(([, path = '']) => path);
  const desk = readdirSync(join(dist, 'assets')).filter((file) => file.startsWith('DeskPage-') && file.endsWith('.js'));
  const scripts = new Set<string>();
  const add = (path: string): void => {
    if (scripts.has(path) || !existsSync(join(dist, path))) return;
    scripts.add(path);
    const code = readFileSync(join(dist, path), 'utf8');
    for (const [, imported = ''] of code.matchAll(/(?:from|import)\s*["']\.\/([^"']+\.js)["']/g)) add(`assets/${imported}`);
  };
  [...named, ...desk.map((file) => `assets/${file}`)].forEach(add);
  const bytes = [...scripts].reduce((sum, path) => sum + gzipSync(readFileSync(join(dist, path))).length, 0);
  return [{ work: 'first load of the desk: JavaScript, gzip', ours: `${Math.round(bytes / 1024)} kB in ${scripts.size} files`, against: '–', ratio: '–', aim: '≤ 200 kB' }];
}

const parts: string[] = [];
const say = (text: string): void => {
  parts.push(text);
  process.stdout.write(`${text}\n`);
};

say(`# Measurements\n\n${new Date().toISOString().slice(0, 10)}, Node ${process.versions.node}, ${cpus().length} processors, ${sizes.map((size) => `${size.toLocaleString('en')} contacts`).join(' and ')}. Made by \`npm run bench -- --contacts ${sizes.join(',')}\`. A ratio above 1 is slower than what it is measured against, but for rates, where it is the share of the other's.\n`);
if (wanted('gateway')) say(table('The embedded database', await gateway()));
const growth = new Map<string, Record<string, number>>();
for (const size of sizes) {
  if (wanted('requests')) {
    const { rows, p95 } = await requests(size);
    say(table(`What a click waits for, at ${size.toLocaleString('en')} contacts`, rows));
    for (const [work, value] of Object.entries(p95)) growth.set(work, { ...growth.get(work), [size]: value });
  }
  if (wanted('rules')) say(table(`Rules, against hand-written SQL, at ${size.toLocaleString('en')} contacts`, await rules(size)));
}
if (sizes.length > 1 && growth.size > 0) {
  const head = `| work (95th percentile) | ${sizes.map((size) => size.toLocaleString('en')).join(' | ')} | growth |`;
  const lines = [...growth].map(([work, values]) => `| ${work} | ${sizes.map((size) => ms(values[size] ?? NaN)).join(' | ')} | ${((values[biggest] ?? NaN) / (values[Math.min(...sizes)] ?? NaN)).toFixed(1)} |`);
  say(['## Growth', '', head, `|---|${sizes.map(() => '---').join('|')}|---|`, ...lines, ''].join('\n'));
}
if (wanted('import')) say(table('Import', await importing(Math.min(biggest, 100_000))));
if (wanted('sending')) say(table('Sending', await sending(5000)));
if (wanted('letters')) say(table('Letters', await letters()));
if (wanted('addresses')) say(table('Addresses in letters', await addresses()));
if (wanted('meanwhile')) say(table('At the screen, meanwhile', await meanwhile()));
if (wanted('load')) say(table('First load', firstLoad()));
const keep = option('--keep');
if (keep) writeFileSync(join(root, keep), parts.join('\n'));
