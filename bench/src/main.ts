// Prints ratio tables; each pair is measured in turn in the same run. `--contacts 100000` (or `10000,100000`) says
// how large the world is, `--only requests,rules` which tables to make; `--plans` ends with the slowest statements on a
// PostgreSQL server and their plans.
import { writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { gateway } from './gateway.js';
import { importing, looking } from './intake.js';
import { ms, table } from './measure.js';
import { startPostgres } from './postgres.js';
import { requests } from './requests.js';
import { rules } from './rules.js';
import { atTheScreen, firstLoad } from './screen.js';
import { addresses, letters, meanwhile, sending } from './work.js';

const root = join(import.meta.dirname, '..', '..');
const option = (name: string): string | undefined => {
  const place = process.argv.indexOf(name);
  return place < 0 ? undefined : process.argv[place + 1];
};
const sizes = (option('--contacts') ?? '12000').split(',').map(Number);
const only = option('--only')?.split(',');
const wanted = (name: string): boolean => only === undefined || only.includes(name);
const biggest = Math.max(...sizes);

const parts: string[] = [];
const say = (text: string): void => {
  parts.push(text);
  process.stdout.write(`${text}\n`);
};

say(
  `# Measurements\n\n${new Date().toISOString().slice(0, 10)}, Node ${process.versions.node}, ${cpus().length} processors, ${sizes.map((size) => `${size.toLocaleString('en')} contacts`).join(' and ')}. Made by \`npm run bench -- --contacts ${sizes.join(',')}\`. A ratio above 1 is slower than what it is measured against, but for rates, where it is the share of the other's.\n`,
);
const explains = process.argv.includes('--plans');
const postgres = await startPostgres(explains);
if (!postgres) say('No PostgreSQL server is installed: there is no column of one.\n');
if (wanted('gateway')) say(table('The embedded database', await gateway()));
const growth = new Map<string, Record<string, number>>();
for (const size of sizes) {
  if (wanted('requests')) {
    const { rows, p95 } = await requests(size, await postgres?.database(`world_${size}`));
    say(table(`What a click waits for, at ${size.toLocaleString('en')} contacts`, rows));
    for (const [work, value] of Object.entries(p95))
      growth.set(work, { ...growth.get(work), [size]: value });
  }
  if (wanted('rules'))
    say(
      table(
        `Rules, against hand-written SQL, at ${size.toLocaleString('en')} contacts`,
        await rules(size, await postgres?.database(`rules_${size}`)),
      ),
    );
}
if (sizes.length > 1 && growth.size > 0) {
  const head = `| work (95th percentile) | ${sizes.map((size) => size.toLocaleString('en')).join(' | ')} | growth |`;
  const lines = [...growth].map(
    ([work, values]) =>
      `| ${work} | ${sizes.map((size) => ms(values[size] ?? NaN)).join(' | ')} | ${((values[biggest] ?? NaN) / (values[Math.min(...sizes)] ?? NaN)).toFixed(1)} |`,
  );
  say(
    ['## Growth', '', head, `|---|${sizes.map(() => '---').join('|')}|---|`, ...lines, ''].join(
      '\n',
    ),
  );
}
if (wanted('import'))
  say(
    table(
      'Import',
      await importing(Math.min(biggest, 100_000), await postgres?.database('importing')),
    ),
  );
if (wanted('looking'))
  say(table('Looking at a file before it comes in', await looking(Math.min(biggest, 100_000))));
if (wanted('sending')) say(table('Sending', await sending(5000, postgres)));
if (wanted('letters')) say(table('Letters', await letters()));
if (wanted('addresses')) say(table('Addresses in letters', await addresses()));
if (wanted('meanwhile')) say(table('At the screen, meanwhile', await meanwhile()));
const seen = Math.max(...sizes.filter((size) => size <= 100_000), Math.min(...sizes));
if (wanted('load'))
  say(
    table(`At the screen, at ${seen.toLocaleString('en')} contacts`, [
      ...firstLoad(),
      ...(await atTheScreen(seen)),
    ]),
  );
if (explains && postgres) process.stdout.write(`\n${postgres.slowest(40).join('\n\n')}\n`);
await postgres?.stop();
const keep = option('--keep');
if (keep) writeFileSync(join(root, keep), parts.join('\n'));
