// Somebody rings: has moved, asks what is held about them, and wants out for good.
import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { expectAccessible, margin, newPerson, people, signIn } from './helpers.js';

const run = Date.now().toString(36);

test('somebody rings: has moved, asks what is held, and is erased for good', async ({ page }) => {
  const [name, address] = [`Wilhelmina Oakes${run}`, `wilhelmina.${run}@example.com`];
  await signIn(page);
  const id = await newPerson(page, {
    given_name: 'Wilhelmina',
    family_name: `Oakes${run}`,
    address,
    street: `4 Bramble ${run} Lane`,
  });

  await test.step('is found by what is said on the telephone, and has moved', async () => {
    await page.goto('/contacts');
    await page
      .getByLabel('Search by name, address, street, phone or tag')
      .fill(`bramble ${run} wilhel`);
    await people(page)
      .getByRole('link', { name: `Oakes${run}, Wilhelmina` })
      .click();
    await margin(page)
      .getByRole('button', { name: /^street: / })
      .click();
    await page.keyboard.type('7 Withy Bank');
    await page.keyboard.press('Enter');
    await expect(page.getByText(/^Changed street: /)).toBeVisible();
  });

  await test.step('asks what they agreed to, and what is held', async () => {
    await margin(page).getByRole('button', { name: 'All they ever agreed to' }).click();
    await expect(margin(page).getByRole('list', { name: 'All they ever agreed to' })).toContainText(
      '“Yes, the garden letter, please.”',
    );
    const download = page.waitForEvent('download');
    await margin(page).getByRole('link', { name: 'Everything we hold about them' }).click();
    const file = readFileSync(await (await download).path(), 'utf8');
    for (const held of [name, address, '7 Withy Bank', 'Yes, the garden letter, please.'])
      expect(file).toContain(held);
  });

  await test.step('is erased, and stays away', async () => {
    await margin(page).getByRole('button', { name: 'Erase them' }).click();
    const dialog = page.getByRole('dialog', { name: `Erase ${name}` });
    await expect(dialog).toContainText('This goes at once');
    await expect(dialog.getByRole('button', { name: 'Erase for good' })).toBeDisabled();
    await expectAccessible(page);
    await dialog.getByRole('checkbox', { name: `${name} asked for this` }).check();
    await dialog.getByRole('button', { name: 'Erase for good' }).click();
    await expect(page.getByRole('heading', { name: 'Erased', exact: true })).toBeVisible();
    await expect(page.getByText('Imported files were gone through, too.')).toBeVisible();
    await expectAccessible(page);
    await page.goto(`/contacts?q=${run}`);
    await expect(page.getByText(name)).toHaveCount(0);
    await page.goto('/contacts');
    await page.getByRole('button', { name: 'New contact' }).click();
    await page.getByLabel('Email address').fill(address);
    await page.getByRole('button', { name: 'Add this contact' }).click();
    await expect(
      page.getByText(/asked to be erased. Only they themselves can come back/),
    ).toBeVisible();
  });

  await test.step('a member is told no more than that there is nothing', async () => {
    await page.context().clearCookies();
    await signIn(page, 'member');
    await page.goto(`/contacts/${id}`);
    await expect(page.getByRole('heading', { name: 'There is nothing here' })).toBeVisible();
  });
});

test('two at one person see what the other writes, and choose where both wrote', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const id = await newPerson(page, { family_name: `Twice${run}`, town: 'Ashby' });
  const other = await (await browser.newContext()).newPage();
  await signIn(other);
  for (const each of [page, other]) await each.goto(`/contacts/${id}`);
  const field = (on: Page, name: string, value: string) =>
    margin(on).getByRole('button', { name: `${name}: ${value}. Edit` });
  await field(page, 'town', 'Ashby').click();
  await page.keyboard.type('Tarn');
  // Beside it, the other writes the same field and another one.
  await field(other, 'phone', 'none').click();
  await other.keyboard.type('01632 960222');
  await other.keyboard.press('Enter');
  await expect(other.getByText(/^Changed phone: /)).toBeVisible();
  await field(other, 'town', 'Ashby').click();
  await other.keyboard.type('Millrace');
  await other.keyboard.press('Enter');
  await expect(other.getByText(/^Changed town: /)).toBeVisible();
  await expect(page.getByText('Changed elsewhere to “Millrace” meanwhile.')).toBeVisible();
  await expect(field(page, 'phone', '01632 960222')).toBeVisible();
  await expect(margin(page).getByRole('combobox', { name: 'town' })).toHaveValue('Tarn');
  await page.getByRole('button', { name: 'Take that' }).click();
  await expect(field(page, 'town', 'Millrace')).toBeVisible();
});
