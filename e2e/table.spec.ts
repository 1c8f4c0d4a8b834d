// The table of contacts: narrowed by a rule, kept as a view, written to, changed by the hundred, and brought back.
import { expect, test } from '@playwright/test';
import { ask, expectAccessible, margin, people, pick, signIn } from './helpers.js';

const run = Date.now().toString(36);
const chips = (page: import('@playwright/test').Page) =>
  page.getByRole('toolbar', { name: 'What to do with the chosen people' });

test('a rule narrows the list, becomes a segment, and opens as a list again', async ({ page }) => {
  await signIn(page);
  await page.goto('/contacts');
  await page.getByRole('button', { name: 'filter by a rule …' }).click();
  await expect(page.getByText('Nothing is asked yet: everybody is shown.')).toBeVisible();
  await ask(page, 'town');
  await page.getByRole('combobox', { name: 'Value' }).fill('Ashwick');
  await expect(page.getByText('People whose town is Ashwick.')).toBeVisible();
  await expect(page).toHaveURL(/filter=[0-9a-f]{24}/);
  await expect(people(page).locator('tbody tr').first()).toContainText('Ashwick');
  await expectAccessible(page);
  const total = await margin(page).getByRole('link').first().textContent();
  const address = page.url();
  await page.reload();
  await expect(page).toHaveURL(address);
  await expect(page.getByRole('button', { name: 'Take the filter away' })).toBeVisible();
  await page.getByRole('button', { name: 'change the filter' }).click();
  await page.getByRole('button', { name: 'Keep as a segment' }).click();
  await expect(page).toHaveURL(/\/segments\/\d+$/);
  await expect(
    margin(page).getByRole('link', { name: `${total ?? ''} people in this segment` }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Open as a list' }).click();
  await expect(page).toHaveURL(/\/contacts\?pool=1&filter=/);
  await expect(margin(page).getByRole('link').first()).toHaveText(total ?? '');
  await page.getByRole('button', { name: 'Take the filter away' }).click();
  await expect(page).not.toHaveURL(/filter=/);
});

test('an arrangement is kept as a view, shared, changed, and dropped', async ({
  page,
  browser,
}) => {
  const name = `By town ${run}`;
  await signIn(page);
  await page.goto('/contacts?pool=1');
  await page.getByRole('button', { name: 'town', exact: true }).click();
  await expect(page).toHaveURL(/sort=town/);
  await page.getByRole('button', { name: 'Arrange the columns' }).click();
  await page.getByRole('checkbox', { name: 'owner', exact: true }).check();
  await page.keyboard.press('Escape');
  await expect(people(page).getByRole('columnheader', { name: 'owner' })).toBeVisible();
  await page.getByRole('button', { name: 'Everybody', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Keep what I see as a new view …' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill(name);
  await page.getByRole('radiogroup', { name: 'Who sees it' }).getByText('everybody').click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('heading', { name })).toBeVisible();
  await expect(page).toHaveURL(/view=\d+/);
  await page.getByLabel('Search by name, address, street, phone or tag').fill('abel');
  await expect(page.getByText('· changed')).toBeVisible();
  await page.getByRole('button', { name: 'back to how it was' }).click();
  await expect(page.getByText('· changed')).toBeHidden();
  await expect(page.getByLabel('Search by name, address, street, phone or tag')).toHaveValue('');
  await page.getByRole('button', { name: 'came in' }).waitFor({ state: 'hidden' });
  const view = /view=(\d+)/.exec(page.url())?.[1] ?? '';

  const theirs = await (await browser.newContext()).newPage();
  await signIn(theirs, 'member');
  await theirs.goto(`/contacts?view=${view}`);
  await expect(theirs.getByRole('heading', { name })).toBeVisible();
  await expect(people(theirs).getByRole('columnheader', { name: 'owner' })).toBeVisible();
  await expect(people(theirs).locator('tbody tr').first()).toContainText('Aurelie Finch');
  await theirs.getByLabel('Search by name, address, street, phone or tag').fill('a');
  await expect(theirs.getByRole('button', { name: 'keep as a view of your own' })).toBeVisible();
  await theirs.context().close();

  await page.getByRole('button', { name }).click();
  await page.getByRole('menuitem', { name: 'Delete this view' }).click();
  await expect(page.getByText(`The view “${name}” was deleted.`)).toBeVisible();
  await page.goto(`/contacts?view=${view}`);
  await expect(page.getByText('This view was deleted, or is not shared')).toBeVisible();
});

test('chosen people stay chosen while one searches, and are written to', async ({ page }) => {
  await signIn(page);
  await page.goto('/contacts?pool=1');
  const search = page.getByLabel('Search by name, address, street, phone or tag');
  await people(page).getByRole('checkbox').nth(1).check();
  await people(page).getByRole('checkbox').nth(2).check();
  await expect(chips(page)).toContainText('2');
  await search.fill('ashcombe');
  await expect(chips(page)).toContainText('2 of them out of sight');
  await expect(people(page).locator('tbody a').first()).toContainText('Ashcombe');
  await people(page).getByRole('checkbox').nth(1).check();
  await expect(chips(page)).toContainText('3');
  await page.getByRole('button', { name: 'Write to them' }).click();
  await expect(page).toHaveURL(/\/campaigns\/\d+$/);
  await expect(page.getByText('people chosen in a list')).toBeVisible();
  await expect(page.getByRole('link', { name: '3 in ' })).toBeVisible();
  await page.reload();
  await expect(page.getByText('3 people chosen in a list')).toBeVisible();
});

test('a field is set for many and taken back; people go to the bin and come back', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/contacts?pool=1&q=weir');
  await page.getByRole('checkbox', { name: 'Choose everybody' }).click();
  const all = Number((await chips(page).locator('b').textContent())?.replace(/\D/g, ''));
  await page.getByRole('button', { name: 'Set a field' }).click();
  await pick(page, 'Field', 'stage');
  await pick(page, 'Value', 'school booker');
  await page.getByRole('button', { name: `Set it for ${all} people` }).click();
  await expect(page.getByText(/^Set stage to “school booker”: /)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/^Took back: set stage to “school booker”: /)).toBeVisible();

  const first = people(page).locator('tbody a[href^="/contacts/"]').first();
  const name = (await first.textContent()) ?? '';
  await page
    .getByRole('checkbox', { name: `Choose ${name}` })
    .first()
    .check();
  await page.getByRole('button', { name: 'Delete 1 person' }).click();
  await expect(page.getByText(/^Deleted: /)).toBeVisible();
  await page.getByRole('button', { name: 'Everybody', exact: true }).click();
  await page.getByRole('menuitem', { name: 'The bin' }).click();
  await expect(page.getByRole('heading', { name: 'The bin' })).toBeVisible();
  await page.getByLabel('Search in the bin').fill('weir');
  await expectAccessible(page);
  await page
    .getByRole('button', { name: /^Bring back / })
    .first()
    .click();
  await expect(page.getByText(/ is back\./)).toBeVisible();
});

test('a cell is changed where it stands, by keys alone', async ({ page }) => {
  await signIn(page);
  await page.goto('/contacts?pool=1&q=tarn');
  const first = people(page).locator('tbody a[href^="/contacts/"]').first();
  await first.focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('[data-edit]').first()).toBeFocused();
  await page.keyboard.press('F2');
  const cell = page.getByRole('combobox', { name: /^town of / });
  await expect(cell).toBeFocused();
  await page.keyboard.type(`Mere ${run}`);
  await page.keyboard.press('Enter');
  await expect(people(page).locator('tbody tr').first()).toContainText(`Mere ${run}`);
  await expect(page.locator('tr[data-index="1"] [data-edit]').first()).toBeFocused();
});

test('a list is taken out as a file, in its columns', async ({ page }) => {
  await signIn(page);
  await page.goto('/contacts?pool=1&q=ashcombe');
  await page.getByRole('button', { name: 'take out as a file' }).click();
  await expectAccessible(page);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Take \d+ (people|person) out$/ }).click();
  const file = await download;
  expect(file.suggestedFilename()).toBe('contacts.csv');
  const stream = await file.createReadStream();
  let text = '';
  for await (const piece of stream) text += String(piece);
  expect(text.split('\n')[0]).toContain('given name,family name,email address,town');
  expect(text).toContain('Ashcombe');
  await expect(page.getByText(/were taken out as CSV\.$/)).toBeVisible();
});
