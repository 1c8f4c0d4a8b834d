// Lists of people: pages, narrowing, the way back, and addresses that can be kept.
import { expect, test } from '@playwright/test';
import { signIn } from './helpers.js';

test('pages forth and back, keeps its place over a reload, and a person knows the list', async ({
  page,
}) => {
  await signIn(page);
  await page.getByRole('link', { name: 'Contacts' }).click();
  const pager = page.getByRole('navigation', { name: 'Pages' });
  await expect(pager).toContainText('1–50 of');
  const first = await page.locator('.people td.who').first().innerText();
  await pager.getByRole('button', { name: 'Further' }).click();
  await expect(pager).toContainText('51–100 of');
  await pager.getByRole('button', { name: 'Further' }).click();
  await expect(pager).toContainText('101–150 of');
  await page.reload();
  await expect(pager).toContainText('101–150 of');
  await pager.getByRole('button', { name: 'Earlier' }).click();
  await expect(pager).toContainText('51–100 of');
  await page.goBack();
  await expect(pager).toContainText('101–150 of');
  await pager.getByRole('button', { name: 'Earlier' }).click();
  await pager.getByRole('button', { name: 'Earlier' }).click();
  await expect(page.locator('.people td.who').first()).toHaveText(first);

  await page.getByRole('button', { name: 'Narrow to the' }).first().click();
  await expect(page.getByText('who have the tag')).toBeVisible();
  const narrowed = page.url();
  await page.locator('.people td.who a').nth(1).click();
  await expect(page.getByText(/^2 of/)).toBeVisible();
  // A press while the page is still being put together was seen to get lost; a person presses again.
  await expect(async () => {
    if (await page.getByText(/^2 of/).isVisible())
      await page.getByRole('button', { name: 'Next person' }).click();
    await expect(page.getByText(/^3 of/)).toBeVisible({ timeout: 4000 });
  }).toPass({ timeout: 30_000 });
  await page.getByRole('link', { name: 'Back to the list' }).click();
  expect(new URL(page.url()).search).toBe(new URL(narrowed).search);
});

test('tags everybody in a list at once, untags by what occurs, and takes it back', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/contacts?q=ash');
  await page.getByLabel('Choose everybody on this page').click();
  await page.getByRole('button', { name: /^Choose all/ }).click();
  await page.getByRole('button', { name: 'Tag', exact: true }).click();
  await page.getByRole('combobox').fill('ash people');
  await page.getByRole('radio', { name: 'ochre' }).click();
  await page.getByRole('option', { name: 'Make the tag “ash people”' }).click();
  await expect(page.getByText(/^Tagged “ash people”: \d+ people/)).toBeVisible();
  await page.getByLabel('Choose everybody on this page').click();
  await page.getByRole('button', { name: /^Choose all/ }).click();
  await page.getByRole('button', { name: 'Untag' }).click();
  await page.getByRole('option', { name: /ash people/ }).click();
  await expect(page.getByText(/^Untagged “ash people”: \d+ people/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/^Took back: untagged “ash people”: \d+ people/)).toBeVisible();
  await page.goto('/contacts');
  await expect(page.locator('.margin').getByText('ash people')).toBeVisible();
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
      page.getByText(`house pool, ${shown} ${shown === '1' ? 'person' : 'people'}`),
    ).toBeVisible();
    await page.goBack();
    await expect(page.getByText('house pool,')).toBeVisible();
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
