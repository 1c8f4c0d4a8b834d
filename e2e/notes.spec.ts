// Notes and tasks: written where the person is, told to a colleague, made for a list, done, and all of it taken back.
import { expect, test, type Page } from '@playwright/test';
import { expectAccessible, people, pick, say, signIn } from './helpers.js';

const happened = (page: Page) => page.getByRole('list', { name: 'What happened' });
const inSight = (page: Page) => page.getByRole('region', { name: 'Kept in sight' });

/** Opens somebody of the member’s. */
async function openOne(page: Page, nth: number): Promise<string> {
  await page.goto('/contacts');
  const link = people(page).locator('tbody a[href^="/contacts/"]').nth(nth);
  await link.click();
  await expect(page.getByText('What did you hear?')).toBeVisible();
  return page.url();
}

test('a call is written down, told to a colleague, pinned, changed, deleted and brought back', async ({
  page,
  browser,
}, { retry }) => {
  const words = `Rang about the lantern walk ${retry}`;
  await signIn(page, 'member');
  const url = await openOne(page, 3);
  await page.getByText('What did you hear?').click();
  await say(page, 'What it is', 'call');
  await page.getByRole('textbox', { name: 'What you heard' }).fill(words);
  // A reload in the middle loses nothing.
  await page.reload();
  await page.getByText('What did you hear?').click();
  await say(page, 'What it is', 'call');
  await expect(page.getByRole('textbox', { name: 'What you heard' })).toHaveText(words);
  await page.getByRole('combobox', { name: 'Tell colleagues' }).click();
  await page.getByRole('option', { name: 'Ines Marlow' }).click();
  await page.keyboard.press('Escape');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Write it down' }).click();
  const entry = happened(page).getByRole('listitem').filter({ hasText: words });
  await expect(entry).toContainText('told Ines Marlow');

  await test.step('the colleague finds it on the desk, until it was seen', async () => {
    const context = await browser.newContext();
    const other = await context.newPage();
    await signIn(other);
    await other.goto('/');
    const told = other
      .getByRole('list', { name: 'To do' })
      .getByRole('listitem')
      .filter({ hasText: words });
    await expect(told).toContainText('told you of');
    await expectAccessible(other);
    await told.getByRole('button', { name: 'Seen' }).click();
    await expect(told).toHaveCount(0);
    await context.close();
  });

  await entry.getByRole('button', { name: 'Pin' }).click();
  await expect(inSight(page)).toContainText(words);
  await inSight(page).getByRole('button', { name: 'Edit' }).click();
  await page.getByRole('textbox', { name: 'What you heard' }).press('Control+End');
  await page.keyboard.type(', for four');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(inSight(page)).toContainText(`${words}, for four`);
  await inSight(page).getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByText('The note was deleted.')).toBeVisible();
  await expect(page.getByText(words)).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(inSight(page)).toContainText(words);
  await say(page, 'Show', 'letters');
  await expect(happened(page).getByText(words)).toHaveCount(0);
  expect(page.url()).toBe(url);
});

test('a task for each of a list stands on the desk, is done, and the rest is taken back', async ({
  page,
}, { retry }) => {
  const about = `about the harvest supper ${retry}`;
  await signIn(page);
  await page.goto('/contacts?q=mill+lane');
  await people(page).getByRole('checkbox').nth(1).click();
  await people(page).getByRole('checkbox').nth(2).click();
  await page.getByRole('button', { name: 'A task for each' }).click();
  const dialog = page.getByRole('dialog', { name: 'A task for each of 2 people' });
  await dialog.getByLabel('What about').fill(about);
  await dialog.getByRole('textbox', { name: 'Until when' }).fill('2020-01-02');
  await pick(dialog, 'Who does it', 'Ines Marlow');
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Make 2 tasks' }).click();
  await expect(page.getByText('2 tasks were made.')).toBeVisible();
  await page.getByRole('link', { name: 'Desk', exact: true }).click();
  const todo = page
    .getByRole('list', { name: 'To do' })
    .getByRole('listitem')
    .filter({ hasText: about });
  await expect(todo).toHaveCount(2);
  await expect(todo.first()).toContainText('overdue since 2 Jan 2020');
  await page.getByRole('link', { name: /^All \d+|Your tasks/ }).click();
  const lines = page.getByRole('listitem').filter({ hasText: about });
  await expect(lines).toHaveCount(2);
  await expectAccessible(page);
  await lines.first().getByRole('checkbox').click();
  await expect(lines).toHaveCount(1);
  await expect(page.getByText(/^Done: call /)).toBeVisible();
  await lines.getByRole('link').first().click();
  await inSight(page).getByRole('button', { name: /^Edit/ }).click();
  await page.getByLabel('What about').fill(`${about}, again`);
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(inSight(page)).toContainText(`${about}, again`);
  await inSight(page).getByRole('checkbox').first().click();
  await expect(happened(page)).toContainText(`${about}, again`);
  await page.goto('/tasks?whose=mine&state=done');
  await expect(page.getByRole('listitem').filter({ hasText: about })).toHaveCount(2);
});
