// Ratings: explained on a person’s page, raised by what the person does, and counted by the office’s scale.
import { expect, test } from '@playwright/test';
import { expectAccessible, margin, people, sendTo, signIn } from './helpers.js';

const run = Date.now().toString(36);

test('a person is new, is rated from the third letter on, and rises by a click', async ({ page }, {
  retry,
}) => {
  const address = `keen.r${retry}.${run}@example.com`;
  await signIn(page);
  for (const at of [1, 2]) await sendTo(page, `Rated ${retry} ${run} ${at}`, [address]);
  await page.goto(`/contacts?q=${encodeURIComponent(address)}`);
  await people(page).getByRole('row').last().getByRole('link').click();
  await expect(margin(page).getByText('New: 2 letters so far.')).toBeVisible();

  await sendTo(page, `Rated ${retry} ${run} 3`, [address]);
  // The reader opens and clicks by themselves, and the rating is counted soon after.
  await expect(async () => {
    await page.reload();
    await margin(page).getByRole('button', { name: 'What it is made of' }).click();
    const parts = margin(page).getByRole('table', { name: 'What the rating is made of' });
    await expect(parts.getByRole('row', { name: 'clicked in 3 letters' })).toBeVisible({
      timeout: 1000,
    });
  }).toPass({ timeout: 60_000 });
  await expect(margin(page).getByText('Of 3 letters that arrived: clicked in 3.')).toBeVisible();
  const parts = margin(page).getByRole('table', { name: 'What the rating is made of' });
  const points = await parts.getByRole('row').locator('td:last-child').allInnerTexts();
  const [total = NaN, ...rest] = points.map(Number).reverse();
  expect(rest.reduce((sum, one) => sum + one, 0)).toBe(total);
  await expect(
    margin(page).getByText(/What brings it up: .*unanswered, it goes to \d+/),
  ).toBeVisible();
  await expectAccessible(page);

  await page.goto(`/contacts?q=${encodeURIComponent(address)}`);
  await page.getByRole('button', { name: 'Arrange the columns' }).click();
  await page.getByRole('checkbox', { name: 'rating', exact: true }).check();
  await page.keyboard.press('Escape');
  await expect(people(page).getByRole('row').last()).toContainText('keen', { timeout: 30_000 });
});

test('who is fading stands on the desk, and opens', async ({ page }) => {
  await signIn(page);
  await page.goto('/');
  const part = margin(page).locator('section').filter({ hasText: 'Ratings' });
  const fading = part.getByRole('paragraph').filter({ hasText: 'fading' }).getByRole('link');
  const count = await fading.innerText();
  await fading.click();
  await expect(
    page.getByRole('heading', { name: 'whose rating is fading', exact: false }),
  ).toBeVisible();
  await expect(page.getByText(`${count} people`, { exact: true })).toBeVisible();
});

test('the scale shows what would shift, is kept, and taken back', async ({ page }) => {
  await signIn(page);
  await page.goto('/settings');
  await page.getByRole('link', { name: 'Open the rating' }).click();
  const bands = margin(page).getByRole('table', { name: 'The bands' });
  const keen = bands.getByRole('row', { name: /^keen/ }).getByRole('cell');
  const before = await keen.nth(1).innerText();
  const opening = page.getByRole('textbox', { name: 'Weight of opening, typed' });
  await opening.fill('0');
  for (const one of ['clicking', 'replying'])
    await page.getByRole('textbox', { name: `Weight of ${one}, typed` }).fill('0');
  await expect(page.getByRole('alert')).toContainText('sum to nothing');
  await expect(page.getByRole('button', { name: 'Rate by this' })).toBeDisabled();
  await opening.fill('100');
  await expect(margin(page).getByText('How the bands would shift')).toBeVisible();
  await expect(keen.nth(2)).toHaveText(/\d/);
  await expect(margin(page).getByText('counted so far')).toHaveCount(0);
  const then = await keen.nth(2).innerText();
  expect(Number(then.replace(',', ''))).toBeGreaterThan(Number(before.replace(',', '')));
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Rate by this' }).click();
  await expect(page.getByText('Kept. Everybody is being counted by it.')).toBeVisible();
  await expect(keen.nth(1)).toHaveText(then, { timeout: 30_000 });
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Taken back.')).toBeVisible();
  await expect(keen.nth(1)).toHaveText(before, { timeout: 30_000 });
});
