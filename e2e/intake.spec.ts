// Files as people have them: odd names over their columns, other encodings, days that could be either, tags, mistakes;
// as text, as workbooks, as visiting cards, and pasted. Mended where they stand, brought in, taken back.
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import excel from 'exceljs';
import { expectAccessible, figures, margin, people, pick, say, signIn } from './helpers.js';

const run = Date.now().toString(36);
const columns = (page: Page) => page.getByRole('table', { name: 'Columns of the file' });
const rows = (page: Page) => page.getByRole('table', { name: 'Rows of the file' });
const look = (page: Page, part: RegExp | string) =>
  page.getByRole('radiogroup', { name: 'What to look at' }).getByText(part).click();

async function bring(page: Page, name: string, buffer: Buffer): Promise<void> {
  await page.goto('/intake');
  await page
    .locator('input[type=file]')
    .setInputFiles({ name, mimeType: 'application/octet-stream', buffer });
  await expect(page.getByRole('heading', { name })).toBeVisible();
}

async function fair(): Promise<Buffer> {
  const book = new excel.Workbook();
  book.addWorksheet('Notes', { state: 'hidden' }).addRow(['not this one']);
  const sheet = book.addWorksheet('Saturday');
  sheet.addRow(['Spring fair, everybody who signed']);
  sheet.mergeCells('A1:F1');
  sheet.addRow([]);
  sheet.addRow(['First Nm', 'Surname', 'Mail addr.', 'Member til', 'Groups', 'Kept by']);
  const at = (name: string): string => `${name}.${run}@fair.example.org`;
  sheet.addRow(['Änne', `Fair${run}`, at('aenne').replace('@', '@@'), '', `fair ${run}`, '']);
  sheet.addRow([
    'Teodor',
    `Fair${run}`,
    at('teodor'),
    '04/05/2027',
    `fair ${run}, Fairs ${run}`,
    '',
  ]);
  sheet.addRow(['Ona', `Fair${run}`, `ona.${run}@example`, new Date(Date.UTC(2027, 2, 1)), '', '']);
  sheet.addRow([at('ivo'), `Fair${run}`, '', '', '', '']);
  sheet.addRow(['Sefa', `Fair${run}`, at('sefa'), '31 Feb 2027', '', 'Jonah']);
  sheet.addRow(['Sefa', `Fair${run}`, at('sefa'), '', `fair ${run}`, '']);
  return Buffer.from(await book.xlsx.writeBuffer());
}

test('a workbook with titles, odd days, tags and mistakes is mended in place, brought in, and taken back', async ({
  page,
}) => {
  await signIn(page);
  await bring(page, `fair ${run}.xlsx`, await fair());
  await expect(page.getByText('sheet “Saturday”, 6 rows · nothing has changed yet')).toBeVisible();
  await expect(
    columns(page).getByRole('combobox', { name: 'What the column Groups fills' }),
  ).toHaveValue('tags, several in a cell');
  await expect(
    columns(page).getByRole('combobox', { name: 'What the column Kept by fills' }),
  ).toHaveValue('owner');
  const happens = margin(page).getByRole('table', { name: 'What will happen' });
  await expect(happens.getByRole('row', { name: 'refused, to look at' })).toContainText('3');
  await expect(happens.getByRole('row', { name: 'said again' })).toContainText('1');
  await expectAccessible(page);

  // What is asked once for the whole file stands in the margin.
  await pick(margin(page), 'Who is Jonah', 'Ines Marlow');
  await margin(page)
    .getByRole('button', { name: `take “fair ${run}”` })
    .or(margin(page).getByRole('button', { name: `Leave the tag Fairs ${run} out` }))
    .first()
    .click();
  await say(page, 'How these people gave permission', 'asked for it');
  await page.getByLabel('Where and when they agreed').fill('sign-up sheet at the fair');

  await look(page, /^to look at/);
  await expect(rows(page).getByRole('row')).toHaveCount(6);
  await rows(page)
    .getByRole('button', { name: `aenne.${run}@fair.example.org?` })
    .click();
  await expect(rows(page).getByRole('row').filter({ hasText: 'Änne' })).toContainText('mended');
  await rows(page)
    .getByRole('button', { name: `take “ivo.${run}@fair.example.org”` })
    .click();
  await expect(rows(page).getByText('mended')).toHaveCount(2);
  // By keys, from cell to cell.
  const cell = rows(page).getByRole('button', { name: 'Change Mail addr. of row 6' });
  await cell.focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type(`ona.${run}@fair.example.org`);
  await page.keyboard.press('Enter');
  await expect(rows(page).getByText('mended')).toHaveCount(3);
  // 4 May or 5 April? Said once, for the column.
  await rows(page).getByRole('button', { name: 'day first', exact: true }).click();
  await expect(rows(page).getByRole('row').filter({ hasText: 'Teodor' })).toBeHidden();
  await rows(page)
    .getByRole('row')
    .filter({ hasText: 'Sefa' })
    .getByRole('button', { name: /as it is$/ })
    .click();
  await expect(happens.getByRole('row', { name: 'people touched' })).toContainText('5');
  await expectAccessible(page);
  await page.reload();
  await expect(rows(page).getByText('mended')).toHaveCount(4);
  await page.getByRole('button', { name: 'Bring in 5 people' }).click();

  await expect(page.getByText('done,')).toBeVisible();
  await expect(figures(page)).toContainText('5new');
  await expect(page.getByRole('table', { name: 'What the columns filled' })).toContainText(
    'day first',
  );
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'The file as it came' }).click();
  expect(
    readFileSync(await (await download).path())
      .subarray(0, 2)
      .toString(),
  ).toBe('PK');
  await expectAccessible(page);

  // Somebody has to do with one of them; all others go, and what only this file made is offered.
  await page.goto(`/contacts?q=Fair${run}`);
  await expect(people(page).getByRole('row', { name: /Teodor/ })).toContainText(`fair ${run}`);
  await people(page)
    .getByRole('link', { name: `Fair${run}, Ona` })
    .click();
  await expect(
    margin(page).getByRole('button', { name: /^membership until: 1 Mar 2027/ }),
  ).toBeVisible();
  await page.getByRole('button', { name: /^town: none/ }).click();
  await page.getByRole('combobox', { name: 'town', exact: true }).fill('Saltcote');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/^Changed town: /)).toBeVisible();
  await page.goto('/intake');
  await page
    .getByRole('link', { name: `fair ${run}.xlsx` })
    .first()
    .click();
  await expect(page.getByText(/1 of the new people stays/)).toBeVisible();
  await page.getByRole('button', { name: 'Take it back: 4 people go' }).click();
  await expect(page.getByText('Taken back: 4 people.')).toBeVisible();
  await page.getByRole('button', { name: /^Take (it|them) out$/ }).click();
  await expect(page.getByText('Taken out.')).toBeVisible();
  await expectAccessible(page);
});

test('an odd file is read, asked about once, brought in, mended and known again', async ({
  page,
}) => {
  await signIn(page);
  // Windows-1250: Łukasz, Łódź.
  const contents = Buffer.from(
    `First Nm;Mail addr.;Lives in;Member til;Groups\n\xa3ukasz;lukasz.${run}@example.org;\xa3\xf3d\x9f;04/05/2027;odd ${run}, press\nOna;ona.${run}@example.org;Tarn;n/a;\nMaud;maud.${run}@@example.org;Tarn;;\n`,
    'latin1',
  );
  await bring(page, 'fair.csv', contents);
  await expect(columns(page)).toContainText('Łukasz');
  await margin(page).getByRole('button', { name: 'Windows-1252, western Europe' }).click();
  await expect(columns(page)).toContainText('£ukasz');
  await margin(page).getByRole('button', { name: 'Windows-1250, central Europe' }).click();
  await expect(columns(page)).toContainText('Łukasz');
  await pick(columns(page), 'What comes first in the days of Member til', 'day first');
  await page.getByRole('button', { name: 'Bring in 2 people' }).click();

  const left = page.getByRole('table', { name: 'Rows to look at' });
  await expect(left.getByRole('row')).toHaveCount(3);
  await expect(left).toContainText('membership until needs a day such as 2026-03-02, not “n/a”');
  await expect(left).toContainText('Refused: there are two @ in a row');
  await expectAccessible(page);
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Take all 2 as CSV' }).click();
  const file = readFileSync(await (await download).path(), 'utf8');
  expect(file).toContain('what is wrong');

  await bring(
    page,
    'mended.csv',
    Buffer.from(file.replace('@@', '@').replace('n/a', '28/02/2027')),
  );
  await expect(page.getByText('The columns are read as in the last file like this')).toBeVisible();
  const changed = margin(page).getByRole('table', { name: 'What will happen' });
  await expect(changed.getByRole('row', { name: 'change' })).toContainText('1');
  await page.getByRole('button', { name: 'Bring in 2 people' }).click();
  await expect(figures(page)).toContainText('1new1changed');

  await page.goto(`/contacts?q=${run}`);
  await expect(people(page).getByRole('row', { name: /Łukasz/ })).toContainText(`odd ${run}`);
  await people(page).getByRole('link', { name: 'Ona', exact: true }).click();
  await expect(
    margin(page).getByRole('button', { name: /^membership until: 28 Feb/ }),
  ).toBeVisible();
});

test('rows are pasted from a spreadsheet, looked at, and thrown away', async ({ page }) => {
  await signIn(page);
  await page.goto('/intake');
  await page.getByRole('button', { name: 'paste rows' }).click();
  const dialog = page.getByRole('dialog', { name: 'Paste rows' });
  await dialog
    .getByRole('textbox')
    .fill(
      `Name\tE-mail\tTown\nWren Abelard\twren.${run}@paste.example\tTarn\nIvo von Castellan\tivo.${run}@paste.example\t\n`,
    );
  await dialog.getByRole('button', { name: 'Look at these rows' }).click();
  await expect(page.getByRole('heading', { name: /^pasted rows/ })).toBeVisible();
  await expect(
    columns(page).getByRole('combobox', { name: 'What the column Name fills' }),
  ).toHaveValue('whole name');
  await look(page, /^new 2/);
  await expect(rows(page).getByRole('row')).toHaveCount(3);
  await page.goBack();
  await page.getByRole('button', { name: 'Throw this file away' }).click();
  await expect(page.getByText('is thrown away. Nobody was changed.')).toBeVisible();

  // And right onto the page.
  await expect(page.getByText('Choose a file, or drop one here')).toBeVisible();
  await page.evaluate((text) => {
    const data = new DataTransfer();
    data.setData('text/plain', text);
    document.body.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true }),
    );
  }, `wren.${run}@paste.example\tWren\nivo.${run}@paste.example\tIvo\n`);
  await expect(page.getByText('2 rows · nothing has changed yet')).toBeVisible();
  await page.getByRole('button', { name: 'Bring in 2 people' }).click();
  await expect(figures(page)).toContainText('2new');
});

test('visiting cards fill fields by themselves, and a member’s are their own', async ({ page }) => {
  await signIn(page, 'member');
  const card = (name: string): string =>
    `BEGIN:VCARD\r\nVERSION:4.0\r\nFN:${name}\r\nN:Cards${run};${name};;;\r\nEMAIL;PREF=1:${name}.${run}@cards.example\r\nEMAIL:${name}.two.${run}@cards.example\r\nCATEGORIES:cards ${run}\r\nEND:VCARD\r\n`;
  await bring(page, `cards ${run}.vcf`, Buffer.from(card('Änne') + card('Juno')));
  await expect(
    columns(page).getByRole('combobox', { name: 'What the column tags fills' }),
  ).toHaveValue('tags, several in a cell');
  await expect(page.getByRole('combobox', { name: 'Who looks after new people' })).toBeHidden();
  await page.getByRole('button', { name: 'Bring in 2 people' }).click();
  await expect(figures(page)).toContainText('2new');
  await figures(page).getByRole('link', { name: '2' }).click();
  await people(page)
    .getByRole('link', { name: `Cards${run}, Änne` })
    .click();
  await expect(
    page.getByRole('button', { name: `Write to Änne.two.${run}@cards.example` }),
  ).toBeVisible();
});
