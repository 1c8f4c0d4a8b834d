// What is known of people: fields made, described, made of another kind, taken out; how people are reached; and a
// member's own world in the table.
import { expect, test } from '@playwright/test';
import { expectAccessible, margin, newPerson, people, pick, signIn } from './helpers.js';

const run = Date.now().toString(36);

test('a field is made, filled, renamed, made a choice and back, and taken out', async ({
  page,
}) => {
  const name = `dog ${run}`;
  await signIn(page);
  await page.goto('/settings');
  await page.getByRole('link', { name: 'Open the fields' }).click();
  await expect(page.getByRole('heading', { name: 'Fields', exact: true })).toBeVisible();
  await page.getByRole('button', { name: '+ field' }).click();
  await page.getByRole('textbox', { name: 'Name of the field' }).fill(name);
  await page.getByRole('button', { name: 'Make this field' }).click();
  await expect(margin(page).getByRole('heading', { name })).toBeVisible();
  await expectAccessible(page);
  const key = new URL(page.url()).searchParams.get('field') ?? '';

  const ids: number[] = [];
  for (const dog of ['Rex', 'rex', 'Bello'])
    ids.push(await newPerson(page, { family_name: `Dogs ${run}`, [key]: dog }));
  await page.goto(`/contacts/${ids[0]}`);
  await expect(margin(page).getByRole('button', { name: `${name}: Rex. Edit` })).toBeVisible();

  // Described in its place, and there where it is filled in.
  await page.goto(`/settings/fields?field=${key}`);
  await margin(page).getByRole('textbox', { name: 'What it is for' }).fill('as it is called');
  await margin(page).getByRole('textbox', { name: 'Group' }).fill('Animals');
  await margin(page).getByRole('button', { name: 'Keep this' }).click();
  await expect(page.getByRole('list', { name: 'Fields of your own' })).toContainText(
    'as it is called',
  );

  // What does not fit is said before.
  await pick(margin(page), 'Another kind', 'number');
  await expect(margin(page)).toContainText('What 3 people have is no number, and is cleared.');
  await pick(margin(page), 'Another kind', 'one choice');
  await expect(margin(page)).toContainText('2 choices, as they occur: Rex, Bello');
  await expectAccessible(page);
  await margin(page)
    .getByRole('button', { name: `Make ${name} one choice` })
    .click();
  await expect(page.getByText(`Made ${name} one choice: 3 people.`)).toBeVisible();
  await expect(margin(page).getByRole('textbox', { name: 'Choice 1' })).toHaveValue('Rex');
  await page.goto(`/contacts/${ids[1]}`);
  await expect(margin(page).getByRole('region', { name: 'Animals' })).toContainText('Rex');

  await page.goto('/activity');
  await page
    .getByRole('listitem')
    .filter({ hasText: `Made ${name} one choice` })
    .getByRole('button', { name: 'Undo' })
    .click();
  await expect(page.getByText(`Took back: made ${name} one choice: 3 people.`)).toBeVisible();
  await page.goto(`/contacts/${ids[1]}`);
  await expect(margin(page).getByRole('button', { name: `${name}: rex. Edit` })).toBeVisible();

  await page.goto(`/settings/fields?field=${key}`);
  await margin(page)
    .getByRole('button', { name: `Take out ${name} …` })
    .click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('3 people have something in it.');
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Take it out' }).click();
  await expect(page.getByText(`“${name}” was taken out.`)).toBeVisible();
  await expect(page.getByRole('list', { name: 'Fields of your own' })).not.toContainText(name);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('list', { name: 'Fields of your own' })).toContainText(name);
});

test('stages are named by keys alone, in their order', async ({ page }) => {
  const stage = `friend ${run}`;
  await signIn(page);
  await page.goto('/settings/fields');
  await page.getByRole('button', { name: 'stage' }).focus();
  await page.keyboard.press('Enter');
  const last = margin(page).getByRole('list', { name: 'Choices' }).getByRole('textbox').last();
  await last.focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type(stage);
  await page.keyboard.press('Alt+ArrowUp');
  const labels = async (): Promise<string[]> =>
    margin(page)
      .getByRole('list', { name: 'Choices' })
      .getByRole('textbox')
      .evaluateAll((all) => all.map((one) => (one as HTMLInputElement).value));
  await expect.poll(async () => (await labels()).at(-2)).toBe(stage);
  await margin(page).getByRole('button', { name: 'Keep this' }).click();
  await expect(margin(page).getByText('one of 6')).toBeVisible();
  await page.reload();
  await expect.poll(async () => (await labels()).at(-2)).toBe(stage);
});

test('somebody is reached in several ways, and written to at another address', async ({ page }) => {
  await signIn(page);
  const id = await newPerson(page, {
    family_name: `Reached ${run}`,
    address: `first.${run}@example.com`,
    more_addresses: `second.${run}@example.com`,
    phone: '+44 1632 960111',
  });
  await page.goto(`/contacts?q=second.${run}`);
  await expect(people(page).locator('tbody tr')).toHaveCount(1);
  await page.goto(`/contacts/${id}`);
  await expect(
    margin(page).getByRole('button', { name: 'phone: 01632 960111. Edit' }),
  ).toBeVisible();
  await margin(page)
    .getByRole('button', { name: `Write to second.${run}@example.com` })
    .click();
  await expect(
    margin(page).getByRole('button', { name: `email address: second.${run}@example.com. Edit` }),
  ).toBeVisible();
  // It stands there before it is kept.
  await expect(page.getByText(/^Changed email address, further addresses: /)).toBeVisible();
  await page.reload();
  await expect(
    margin(page).getByRole('button', { name: `Write to first.${run}@example.com` }),
  ).toBeVisible();
  // What can't be read stays where it was typed, with the reason.
  await margin(page)
    .getByRole('button', { name: /^phone: / })
    .click();
  await page.keyboard.type('by the gate');
  await page.keyboard.press('Enter');
  await expect(page.getByText('phone needs a telephone number, not “by the gate”.')).toBeVisible();
});

test('everybody of a list stays chosen while it is narrowed, but some', async ({ page }) => {
  await signIn(page);
  await page.goto('/contacts?pool=1&q=wolstan');
  await page.getByRole('checkbox', { name: 'Choose everybody' }).click();
  const bar = page.getByRole('toolbar', { name: 'What to do with the chosen people' });
  const all = Number(/All (\d+)/.exec((await bar.textContent()) ?? '')?.[1]);
  expect(all).toBeGreaterThan(2);
  await people(page).getByRole('checkbox').nth(2).uncheck();
  await expect(bar).toContainText(`${all - 1}`);
  await page.getByLabel('Search by name, address, street, phone or tag').fill('ashcombe');
  await expect(bar).toContainText('of another list');
  await page.getByLabel('Search by name, address, street, phone or tag').fill('wolstan');
  await page.getByRole('button', { name: 'Set a field' }).click();
  await pick(page, 'Field', 'closeness');
  await pick(page, 'Value', 'distant');
  await page.getByRole('button', { name: `Set it for ${all - 1} people` }).click();
  await expect(page.getByText(/^Set closeness to “distant”/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/^Took back: set closeness/)).toBeVisible();
});

test('a member arranges, narrows and changes only the own people', async ({ page }) => {
  await signIn(page, 'member');
  await page.goto('/contacts');
  const total = Number(
    (await margin(page).getByRole('link').first().textContent())?.replace(/\D/g, ''),
  );
  expect(total).toBeGreaterThan(10);
  expect(total).toBeLessThan(8000);
  await page.getByRole('button', { name: 'Arrange the columns' }).click();
  await page.getByRole('checkbox', { name: 'owner', exact: true }).check();
  await page.keyboard.press('Escape');
  const rows = people(page).locator('tbody tr:has(a)');
  await expect(rows.first()).toContainText('Aurelie Finch');
  expect(await rows.filter({ hasNotText: 'Aurelie Finch' }).count()).toBe(0);
  await people(page).getByRole('checkbox').nth(1).check();
  await page.getByRole('button', { name: 'Set a field' }).click();
  await page.getByRole('combobox', { name: 'Field' }).click();
  await expect(page.getByRole('option', { name: 'stage', exact: true })).toBeVisible();
  await expect(page.getByRole('option', { name: 'pool', exact: true })).toHaveCount(0);
  await page.keyboard.press('Escape');
  // Fields are looked at, and changed by a coordinator.
  await page.goto('/settings/fields');
  await page.getByRole('button', { name: 'membership', exact: true }).click();
  await expect(margin(page)).toContainText('A coordinator changes fields.');
});

test('people are shared with a colleague, who works on them as on their own', async ({
  page,
  browser,
}) => {
  const surname = `Shared ${run}`;
  await signIn(page);
  const ids: number[] = [];
  for (const given_name of ['Abel', 'Bela'])
    ids.push(await newPerson(page, { given_name, family_name: surname }));
  await page.goto(`/contacts?q=${surname}`);
  await people(page).getByRole('checkbox').nth(1).check();
  await people(page).getByRole('checkbox').nth(2).check();
  await page.getByRole('button', { name: 'Set a field' }).click();
  await pick(page, 'Field', 'shared with');
  await pick(page, 'Colleague', 'Aurelie Finch');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Share 2 people' }).click();
  await expect(page.getByText('Shared with Aurelie Finch: 2 people.')).toBeVisible();

  const theirs = await (await browser.newContext()).newPage();
  await signIn(theirs, 'member');
  await theirs.goto(`/contacts?q=${surname}`);
  await expect(people(theirs).locator('tbody tr')).toHaveCount(2);
  await people(theirs).getByRole('checkbox').nth(1).check();
  await theirs.getByRole('button', { name: 'Delete 1 person' }).click();
  await expect(
    theirs.getByText('was left as they are: only their owner or a coordinator does this.'),
  ).toBeVisible();
  await theirs.goto(`/contacts/${ids[0] ?? 0}`);
  await expect(margin(theirs).getByText('Aurelie Finch')).toBeVisible();
  await margin(theirs)
    .getByRole('button', { name: /^town: / })
    .click();
  await theirs.keyboard.type('Tarn');
  await theirs.keyboard.press('Enter');
  await expect(margin(theirs).getByRole('button', { name: 'town: Tarn. Edit' })).toBeVisible();

  await page.goto(`/contacts/${ids[0] ?? 0}`);
  await expect(margin(page).getByRole('button', { name: 'town: Tarn. Edit' })).toBeVisible();
  await margin(page).getByRole('combobox', { name: 'Shared with' }).click();
  await page.keyboard.press('Backspace');
  await expect(page.getByText('Changed shared with: Abel')).toBeVisible();
  await theirs.reload();
  await expect(theirs.getByRole('heading', { name: 'There is nothing here' })).toBeVisible();
  await theirs.context().close();
});
