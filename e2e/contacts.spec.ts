// Lists of people: scrolling, narrowing, the way back, and addresses that can be kept.
import { expect, test } from '@playwright/test';
import { expectAccessible, margin, people, signIn } from './helpers.js';

test('is scrolled anywhere, comes back to its place, and a person knows the list', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/');
  await page.getByRole('link', { name: 'Contacts' }).click();
  const names = people(page).locator('tbody a[href^="/contacts/"]');
  await expect(names.first()).toBeVisible();
  const first = await names.first().innerText();
  // To the end by a key, and back.
  await names.first().focus();
  await page.keyboard.press('End');
  const last = people(page).getByRole('row').last().getByRole('link');
  await expect(last).toBeFocused();
  expect((await last.innerText()).localeCompare(first)).toBeGreaterThan(0);
  await page.keyboard.press('ArrowUp');
  const above = page.locator(':focus');
  await expect(above).toHaveAttribute('href', /\/contacts\/\d+/);
  const left = await above.innerText();
  await page.waitForTimeout(300); // the place is kept when the scrolling has come to rest
  await above.press('Enter');
  await expect(page).toHaveURL(/\/contacts\/\d+/);
  await page.goBack();
  await expect(people(page).getByRole('link', { name: left, exact: true }).first()).toBeVisible();

  const narrow = page.getByRole('button', { name: 'Narrow to the' }).first();
  const words = (await narrow.getAttribute('aria-label')) ?? '';
  const some = /Narrow to the ([\d,]+)/.exec(words)?.[1] ?? '';
  await narrow.click();
  await expect(page.getByText('who have the tag')).toBeVisible();
  // The rows are of the narrowed list once its sum is.
  await expect(page.getByText(`${some} people`, { exact: true })).toBeVisible();
  // It is scrolled to its beginning, too.
  await expect(people(page).getByRole('row').nth(1)).toHaveAttribute('aria-rowindex', '2');
  const narrowed = page.url();
  await names.nth(1).click();
  await expect(page.getByText(/^2 of/)).toBeVisible();
  await page.getByRole('button', { name: 'Next person' }).click();
  await expect(page.getByText(/^3 of/)).toBeVisible();
  await page.keyboard.press('u');
  await expect(people(page)).toBeVisible();
  expect(new URL(page.url()).search).toBe(new URL(narrowed).search);
});

test('arranges a table: columns shown, moved, kept in sight, and so it stays', async ({ page }) => {
  await signIn(page);
  await page.goto('/contacts');
  const heads = () => people(page).getByRole('columnheader').allInnerTexts();
  await expect(people(page)).toBeVisible();
  const before = (await heads()).filter(Boolean);
  expect(before).toEqual(['name', 'address', 'town', 'tags', 'last response']);
  await page.getByRole('button', { name: 'Arrange the columns' }).click();
  await page.getByRole('checkbox', { name: 'address', exact: true }).uncheck();
  await page.getByRole('button', { name: 'Move last response forward' }).click();
  await page.getByRole('button', { name: 'Keep town in sight' }).click();
  await page.keyboard.press('Escape');
  const after = ['town', 'name', 'last response', 'tags'];
  await expect.poll(async () => (await heads()).filter(Boolean)).toEqual(after);
  await page.reload();
  await expect.poll(async () => (await heads()).filter(Boolean)).toEqual(after);
  await expectAccessible(page);
});

test('tags everybody in a list at once, untags by what occurs, and takes it back', async ({
  page,
}, { retry }) => {
  const tag = `ash people ${retry || ''}`.trim();
  await signIn(page);
  await page.goto('/contacts?q=ash');
  await page.getByLabel('Choose everybody').click();
  await page.getByRole('button', { name: 'Tag', exact: true }).click();
  await page.getByRole('textbox', { name: 'Find or make a tag' }).fill(tag);
  await page.getByRole('radio', { name: 'ochre' }).click();
  await page.getByRole('option', { name: `Make the tag “${tag}”` }).click();
  await expect(page.getByText(new RegExp(`^Tagged “${tag}”: \\d+ people`))).toBeVisible();
  await page.getByLabel('Choose everybody').click();
  await page.getByRole('button', { name: 'Untag' }).click();
  await page.getByRole('option', { name: new RegExp(tag) }).click();
  await expect(page.getByText(new RegExp(`^Untagged “${tag}”: \\d+ people`))).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(
    page.getByText(new RegExp(`^Took back: untagged “${tag}”: \\d+ people`)),
  ).toBeVisible();
  await page.goto('/contacts');
  await expect(margin(page).getByText(tag)).toBeVisible();
});

test('every line of the sum opens into just so many people', async ({ page }) => {
  await signIn(page);
  await page.goto('/contacts');
  for (const line of ['no address', 'do not mail', 'no permission', 'may be mailed']) {
    const link = page
      .getByRole('table', { name: 'Who of them may be mailed' })
      .getByRole('row', { name: line })
      .getByRole('link');
    const shown = await link.innerText();
    await link.click();
    await expect(
      page.getByText(`${shown} ${shown === '1' ? 'person' : 'people'}`, { exact: true }),
    ).toBeVisible();
    await page.goBack();
    await expect(page).toHaveURL(/\/contacts$/);
  }
});

test('an address with nothing behind it says so', async ({ page }) => {
  await signIn(page);
  for (const path of [
    '/contacts/99999999',
    '/campaigns/99999',
    '/letters/99999',
    '/segments/99999',
    '/intake/99999',
    '/results/99999',
    '/nowhere',
  ]) {
    await page.goto(path);
    await expect(page.getByRole('heading', { name: 'There is nothing here' })).toBeVisible();
  }
  await page.goto('/contacts?of=campaign.99999.opened');
  await expect(page.getByText('This set of people is not there any more.').first()).toBeVisible();
});
