// Takes the pictures in docs/screenshots from a fresh demo world.
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './build.mjs';
import { browser as installed, needBrowser, needNode, needPackages } from './setup.mjs';

needNode();
needPackages();
needBrowser();
const { chromium } = await import('@playwright/test');

const PORT = 4730;
const base = `http://localhost:${PORT}`;
const folder = join(root, 'docs', 'screenshots');
mkdirSync(folder, { recursive: true });

const env = {
  ...process.env,
  DATA_DIR: join(root, '.palabra', 'screenshots'),
  OUTSIDE_SMTP_PORT: '4731',
  OUTSIDE_WEB_PORT: '4732',
  RETURNS_PORT: '4733',
  OUTSIDE_DELAY: '6000',
  SMTP_CONNECTIONS: '1',
};
const demo = spawn(
  process.execPath,
  ['scripts/run.mjs', '--demo', '--fresh', '--port', String(PORT)],
  { cwd: root, env, stdio: ['ignore', 'pipe', 'inherit'] },
);
await new Promise((resolve, reject) => {
  demo.stdout.on('data', (chunk) => {
    process.stdout.write(chunk);
    if (String(chunk).includes('Palabra is ready')) resolve();
  });
  demo.once('exit', () => reject(new Error('the demo did not start')));
});

const browser = await chromium.launch({
  executablePath: installed(),
  chromiumSandbox: false,
});
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, locale: 'en-GB' });
  const settle = async () => {
    await page.waitForLoadState('networkidle').catch(() => undefined);
    await page.waitForTimeout(500);
  };
  const shot = async (name) => {
    await settle();
    await page.screenshot({ path: join(folder, `${name}.png`) });
    process.stdout.write(`${name}.png\n`);
  };
  const open = async (path) => {
    await page.goto(base + path);
    await settle();
  };

  await page.goto(base);
  await page.getByLabel('Email address').fill('coordinator@quillwater.test');
  await page.getByRole('textbox', { name: 'Password' }).fill('quillwater');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByRole('navigation', { name: 'Places' }).waitFor();
  // Ratings are counted once the office is open.
  await page.waitForTimeout(12_000);
  await open('/');
  await shot('desk');

  await open('/contacts?q=ash&tag=1');
  await page.getByRole('checkbox', { name: 'Choose everybody' }).click();
  await shot('contacts');

  await open('/tasks');
  await shot('tasks');
  await page.getByRole('list', { name: 'Overdue' }).getByRole('link').first().click();
  await page.getByRole('button', { name: 'What it is made of' }).click();
  await shot('person');

  await open('/settings/fields?field=stage');
  await shot('fields');

  await open('/contacts/tags');
  await page.getByRole('button', { name: 'workshops list', exact: true }).click();
  await page.getByRole('table', { name: 'Who has “workshops list” alone' }).waitFor();
  await shot('tags');

  await open('/segments/6');
  await page.getByRole('button', { name: 'Ask about a person' }).click();
  await page.getByRole('textbox', { name: 'Ask about a person' }).fill('abel abelard');
  await page
    .getByRole('option', { name: /Abelard/ })
    .first()
    .click();
  await shot('segment');
  await open('/segments/compare?of=2,3,6');
  await page.getByRole('table', { name: 'Where they meet' }).waitFor();
  await shot('compare');

  await open('/letters/28');
  await page.locator('[id^="block-"][role="group"]').nth(1).click();
  await shot('letter');
  await open('/intake');
  const rows = [
    'First Nm;Surname;Mail addr.;Lives in;Member til;Labels;Kept by',
    'Änne;Moorfield;aenne@@example.org;Millrace;3 Apr 2027;workshop list;',
    'Teodor;Ashgrove;t.ashgrove@example.org;Ashwick;04/05/2027;family;',
    'Ona;Brightwell;ona.brightwell@example;Tarn;;;',
    'ivo@example.net;Castellan;;East Tarn;;donor;',
    'Sefa;Dunmore;sefa@example.com;;;garden fair;',
    'Sefa;Dunmore;sefa@example.com;Lower Ashby;;;',
    'Odalys;Bashir;odalys.b@example.net;;31 Feb 2027;;',
    'Calixta;Nash;calixta@nash.test, cn@nash.test;;;familys;',
    'Florian;Wyndash;florian.w@example.net;;;;Jonah',
    ...Array.from(
      { length: 90 },
      (_, at) => `Guest ${at + 1};Fair;guest${at + 1}@fair.example.org;Quillwater;;garden fair;`,
    ),
  ];
  await page.getByLabel('Choose a file').setInputFiles({
    name: 'garden fair.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`${rows.join('\n')}\n`),
  });
  await page
    .getByRole('radiogroup', { name: 'How these people gave permission' })
    .getByText('asked for it', { exact: true })
    .click();
  await page.getByLabel('Where and when they agreed').fill('sign-up sheet at the garden fair');
  await page.getByRole('button', { name: /^Bring in \d/ }).waitFor();
  await page.mouse.wheel(0, -5000);
  await shot('import');
  await page.getByText(/^to look at/).click();
  await page.getByRole('button', { name: 'aenne@example.org?' }).click();
  await page.getByText('mended').waitFor();
  await page.getByRole('button', { name: /^Bring in \d/ }).waitFor();
  await shot('import-rows');
  await page.getByRole('button', { name: /^Bring in/ }).click();

  await open('/campaigns/28');
  await shot('campaign');
  await page.getByRole('button', { name: /^Send to/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: /now$/ }).click();
  await page.getByText('letters are settled').waitFor({ timeout: 60_000 });
  await page.waitForTimeout(4000);
  await shot('sending');

  await open('/results');
  await shot('results-list');
  await open('/results/27');
  await shot('results');
  await open('/results/returned');
  await page.getByRole('button', { name: 'See to it' }).last().click();
  await shot('returned');
  await open('/activity');
  await shot('activity');
  await open('/settings');
  await shot('settings');
  await page.emulateMedia({ colorScheme: 'dark' });
  await open('/segments/6');
  await shot('dark');
} finally {
  await browser.close();
  const gone = new Promise((resolve) => demo.once('exit', resolve));
  demo.kill('SIGTERM');
  await gone;
}
