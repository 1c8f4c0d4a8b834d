// A file as people have it: odd names over its columns, another encoding, days that could be either, tags, and mistakes.
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { expectAccessible, margin, people, pick, signIn } from './helpers.js';

const run = Date.now().toString(36);

test('an odd file is read, asked about once, brought in, mended and known again', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/intake');
  // Windows-1250: Łukasz, Łódź.
  const contents = Buffer.from(
    `First Nm;Mail addr.;Lives in;Member til;Groups\n\xa3ukasz;lukasz.${run}@example.org;\xa3\xf3d\x9f;04/05/2027;odd ${run}, press\nOna;ona.${run}@example.org;Tarn;n/a;\nMaud;maud.${run}@@example.org;Tarn;;\n`,
    'latin1',
  );
  const bring = async (name: string, buffer: Buffer): Promise<void> => {
    await page.goto('/intake');
    await page.locator('input[type=file]').setInputFiles({ name, mimeType: 'text/csv', buffer });
    await expect(page.getByRole('heading', { name })).toBeVisible();
  };
  await bring('fair.csv', contents);
  const columns = page.getByRole('table', { name: 'Columns of the file' });
  await expect(columns).toContainText('Łukasz');
  await margin(page).getByRole('button', { name: 'Windows-1252, western Europe' }).click();
  await expect(columns).toContainText('£ukasz');
  await margin(page).getByRole('button', { name: 'Windows-1250, central Europe' }).click();
  await expect(columns).toContainText('Łukasz');
  await expect(columns.getByRole('combobox', { name: 'What the column Groups fills' })).toHaveValue(
    'tags, several in a cell',
  );
  await pick(columns, 'What comes first in the days of Member til', 'day first');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Bring in 3 rows' }).click();

  const look = page.getByRole('table', { name: 'Rows to look at' });
  await expect(look.getByRole('row')).toHaveCount(3);
  await expect(look).toContainText('membership until needs a day such as 2026-03-02, not “n/a”');
  await expect(look).toContainText('Refused: there are two @ in a row');
  await expectAccessible(page);
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Take all 2 as CSV' }).click();
  const file = readFileSync(await (await download).path(), 'utf8');
  expect(file).toContain('what is wrong');

  await bring('mended.csv', Buffer.from(file.replace('@@', '@').replace('n/a', '28/02/2027')));
  await expect(page.getByText('The columns are read as in the last file like this')).toBeVisible();
  await page.getByRole('button', { name: 'Bring in 2 rows' }).click();
  await expect(page.getByRole('group', { name: 'Figures' })).toContainText('1new1changed');

  await page.goto(`/contacts?q=${run}`);
  await expect(people(page).getByRole('row', { name: /Łukasz/ })).toContainText(`odd ${run}`);
  await people(page).getByRole('link', { name: 'Ona' }).click();
  await expect(
    margin(page).getByRole('button', { name: /^membership until: 28 Feb/ }),
  ).toBeVisible();
});
