// Colleagues come, change and go; and two of them at the same thing.
import { expect, test, type Browser, type Page } from '@playwright/test';
import { call, expectAccessible, lettersTo, password, people, pick, signIn } from './helpers.js';

const run = Date.now().toString(36);

async function act(page: Page, name: string, what: string | RegExp): Promise<void> {
  await page.getByRole('button', { name: `What to do with ${name}` }).click();
  await page.getByRole('menuitem', { name: what }).click();
}

async function elsewhere(browser: Browser): Promise<Page> {
  return (await browser.newContext()).newPage();
}

async function enterBy(page: Page, link: string, chosen: string): Promise<void> {
  await page.goto(link);
  await page.getByRole('textbox', { name: 'Your password' }).fill(chosen);
  await page.getByRole('button', { name: 'Keep it and sign in' }).click();
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
}

test('a colleague is invited, comes in, takes people over, forgets the password and leaves', async ({
  page,
  browser,
  request,
}) => {
  const name = `Bo ${run}`;
  const address = `bo.${run}@example.org`;
  await signIn(page);
  await page.goto('/settings');
  await page.getByRole('button', { name: '+ colleague' }).click();
  await page.getByRole('button', { name: 'Add this colleague' }).click();
  await expect(page.getByText(/name needs|needs a name/i)).toBeVisible();
  const form = page.locator('form', {
    has: page.getByRole('button', { name: 'Add this colleague' }),
  });
  await form.getByLabel('Name').fill(name);
  await form.getByLabel('Email address').fill(address);
  await form.getByRole('button', { name: 'Add this colleague' }).click();
  await page.getByRole('button', { name: `Mail it to ${address}` }).click();
  await expect(page.getByText(`On its way to ${address}.`)).toBeVisible();
  // What is scrolled half under the bar is no target that is too small.
  await page.evaluate(() => {
    window.scrollTo(0, 0);
  });
  await expectAccessible(page);
  const link = await page.getByRole('textbox', { name: 'The link' }).inputValue();
  await expect
    .poll(async () => (await lettersTo(request, address)).some(({ text }) => text.includes(link)))
    .toBe(true);
  await page.getByRole('button', { name: 'Done', exact: true }).click();
  await expect(page.getByRole('listitem').filter({ hasText: name })).toContainText(
    'invited, not in yet',
  );

  const theirs = await elsewhere(browser);
  await enterBy(theirs, link, `${run} in the garden`);
  await expect(theirs.getByRole('region', { name: 'Welcome' })).toContainText(
    `${name}. You are a member here.`,
  );
  await theirs.getByRole('button', { name: 'Thank you' }).click();
  await expect(theirs.getByRole('region', { name: 'Welcome' })).toBeHidden();
  await theirs.goto('/contacts');
  await expect(theirs.getByText('Nobody is in your care yet', { exact: false })).toBeVisible();
  await theirs.goto(link);
  await expect(theirs.getByRole('heading', { name: 'This link can’t be used' })).toBeVisible();

  // People are handed over, and the change says how many.
  const { id } = (await (
    await call(page, 'POST', '/people', {
      values: { address: `rosa.${run}@example.org`, given_name: 'Rosa', family_name: `Fern${run}` },
      permission: 'asked',
      source: 'at the fair',
    })
  ).json()) as { id: number };
  await page.goto('/settings');
  const own = 'Ines Marlow';
  await act(page, own, /^Hand over/);
  await pick(page, 'Who looks after them from now on', name);
  await page.getByRole('button', { name: 'Hand over', exact: true }).click();
  await expect(page.getByText(/^Handed over from Ines Marlow to /)).toBeVisible();
  await theirs.goto(`/contacts?q=Fern${run}`);
  await expect(people(theirs).getByRole('link', { name: `Fern${run}, Rosa` })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/^Took back: handed over from Ines Marlow/)).toBeVisible();
  expect((await call(theirs, 'GET', `/people/${id}`)).status()).toBe(404);

  // The password is forgotten; the old one goes with the new.
  const forgetful = await elsewhere(browser);
  await forgetful.goto('/');
  await forgetful.getByRole('button', { name: 'Forgot the password?' }).click();
  await forgetful.getByLabel('Email address').fill(address);
  await forgetful.getByRole('button', { name: 'Mail me a link' }).click();
  await expect(forgetful.getByText(/a link is on its way there/)).toBeVisible();
  const mailed = async (): Promise<string | undefined> =>
    (await lettersTo(request, address))
      .map(({ text }) => /https?:\/\/\S+\/enter\/\S+/.exec(text)?.[0])
      .find((found) => found !== undefined && found !== link);
  await expect.poll(mailed).toBeTruthy();
  await enterBy(forgetful, (await mailed()) ?? '', `${run} beside the pond`);
  expect((await call(theirs, 'GET', '/vocabulary')).status()).toBe(401);

  // Closed, and nothing opens any more; opened again by whoever closed it.
  await page.reload();
  await act(page, name, 'Close');
  await expect(page.getByText(`${name} can’t sign in any more.`)).toBeVisible();
  expect((await call(forgetful, 'GET', '/vocabulary')).status()).toBe(401);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Taken back.')).toBeVisible();
});

test('one’s own name is changed by oneself, another address only with the password', async ({
  page,
}) => {
  await signIn(page, 'manager');
  await page.goto('/settings');
  const own = page.locator('form').filter({ hasText: 'You sign in with it.' });
  for (const name of ['Tobias Renn-Ash', 'Tobias Renn']) {
    await own.getByRole('textbox', { name: 'Name' }).fill(name);
    await own.getByRole('button', { name: 'Keep it' }).click();
    await expect(page.getByRole('button', { name, exact: true })).toBeVisible();
  }
  await own.getByRole('textbox', { name: 'Email address' }).fill(`tobias.${run}@example.org`);
  await own.getByRole('textbox', { name: 'Your password' }).fill('not this one');
  await own.getByRole('button', { name: 'Keep it' }).click();
  await expect(own.getByText(/password/i).last()).toBeVisible();
  const me = (await (await call(page, 'GET', '/me')).json()) as { user: { address: string } };
  expect(me.user.address).toBe('manager@quillwater.test');
});

test('one’s sessions are seen and ended from another', async ({ page, browser }) => {
  await signIn(page, 'manager');
  const other = await elsewhere(browser);
  await signIn(other, 'manager');
  await other.goto('/settings');
  await other.getByRole('button', { name: /^End / }).first().click();
  await expect(other.getByText('It was ended.')).toBeVisible();
  await expect
    .poll(async () => {
      for (const each of [page, other])
        if ((await call(each, 'GET', '/vocabulary')).status() === 401) return each === page;
      return undefined;
    })
    .toBe(true);
  await page.goto('/results');
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await page.getByRole('textbox', { name: 'Password' }).fill(password);
});

test('two change one person: the later sees what the other wrote', async ({ page, browser }) => {
  await signIn(page);
  const { id } = (await (
    await call(page, 'POST', '/people', {
      values: { address: `ida.${run}@example.org`, given_name: 'Ida', family_name: `Moss${run}` },
      permission: 'asked',
      source: 'at the fair',
    })
  ).json()) as { id: number };
  const other = await elsewhere(browser);
  await signIn(other);
  for (const each of [page, other]) await each.goto(`/contacts/${id}`);
  const write = async (on: Page, town: string): Promise<void> => {
    await on.getByRole('button', { name: /^town: / }).click();
    await on.getByRole('combobox', { name: 'town', exact: true }).fill(town);
    await on.keyboard.press('Enter');
  };
  await write(other, 'Saltcote');
  await expect(other.getByText(/^Changed town: /)).toBeVisible();
  await write(page, 'Alderbrook');
  await expect(page.getByText('Saltcote').first()).toBeVisible();
});

test('what was deleted stands in the log, and comes back from there', async ({ page }) => {
  const name = `Frost ${run}`;
  await signIn(page);
  const { id } = (await (
    await call(page, 'POST', '/letters', { name, template: 'note' })
  ).json()) as { id: number };
  await page.goto('/letters');
  await page.getByRole('button', { name: `Delete ${name}` }).click();
  await expect(page.getByText(`“${name}” was deleted.`)).toBeVisible();
  await page.goto('/activity');
  const line = page.getByRole('listitem').filter({ hasText: `Deleted the letter “${name}”` });
  await line.getByRole('button', { name: 'Undo' }).click();
  await expect(line).toContainText('taken back');
  await page.goto(`/letters/${id}`);
  await expect(page.getByText(name).first()).toBeVisible();
});
