// The first visit of a new office, and what a manager and a member see.
import { spawn, type ChildProcess } from 'node:child_process';
import { cpSync, existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test, type Page } from '@playwright/test';
import { ask, call, expectAccessible, signIn } from './helpers.js';

const root = join(fileURLToPath(import.meta.url), '..', '..');
const PORT = 4711;

test.describe('a new office', () => {
  test.describe.configure({ mode: 'serial' });
  const directory = join(root, '.palabra', 'journeys-office');
  const moved = `${directory}-moved`;
  const address = `http://localhost:${PORT}`;
  let running: ChildProcess;
  let code = '';
  let data = directory;
  const start = async (place: string): Promise<void> => {
    data = place;
    running = spawn('npm', ['start', '--', '--port', String(PORT)], {
      cwd: root,
      env: { ...process.env, DATA_DIR: place },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    await new Promise<void>((resolve, reject) => {
      let said = '';
      running.stdout?.on('data', (chunk) => {
        said += String(chunk);
        code = /asks for this code: +(\S+)/.exec(said)?.[1] ?? code;
        if (said.includes('Ctrl-C stops it')) resolve();
      });
      running.once('exit', () => reject(new Error('the office did not start')));
    });
  };
  /** As a service manager ends it: npm gets the signal and goes, and nothing of what it started stays behind. */
  const stop = async (): Promise<void> => {
    running.kill('SIGTERM');
    await expect
      .poll(
        () =>
          fetch(`${address}/api/health`).then(
            () => 'there',
            () => 'gone',
          ),
        { timeout: 30_000 },
      )
      .toBe('gone');
    await expect.poll(() => existsSync(join(data, 'data', 'palabra.socket'))).toBe(false);
  };
  test.beforeAll(async () => {
    for (const place of [directory, moved]) rmSync(place, { recursive: true, force: true });
    await start(directory);
  });
  test.afterAll(stop);

  test('is set up on the first visit, and every empty place says what it is for', async ({
    page,
  }) => {
    await page.goto(address);
    await expect(page.getByRole('heading', { name: 'Set up your office' })).toBeVisible();
    await page.getByRole('button', { name: 'Set up and sign in' }).click();
    await expect(page.getByText('The office needs a name')).toBeVisible();
    await expectAccessible(page);
    await page.getByLabel('Code').fill('AAAA-AAAA');
    await page.getByLabel('Name of the office').fill('Tarn Museum');
    await page.getByLabel('Postal address').fill('1 Bell Street\nEast Tarn');
    await page.getByLabel('Your name').fill('Odile');
    await page.getByLabel('Your email address').fill('odile@example.com');
    await page.getByRole('textbox', { name: 'A password' }).fill('a long enough one');
    await page.getByRole('button', { name: 'Set up and sign in' }).click();
    await expect(page.getByText('This is not the code that Palabra printed')).toBeVisible();
    await page.getByLabel('Code').fill(code.toLowerCase());
    await page.getByRole('button', { name: 'Set up and sign in' }).click();
    await expect(page.getByText('Nothing is planned.')).toBeVisible();
    await expect(page.getByText('You are a coordinator here.')).toBeVisible();
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Thank you' }).click();
    await expect(page.getByText('You are a coordinator here.')).toBeHidden();
    for (const [place, words] of [
      ['Contacts', 'Nobody is here yet'],
      ['Segments', 'No segments yet'],
      ['Letters', 'No letters yet'],
      ['Campaigns', 'No campaigns yet'],
      ['Results', 'Nothing has gone out yet'],
      ['Intake', 'Nothing yet'],
    ] as const) {
      await page
        .getByRole('navigation', { name: 'Places' })
        .getByRole('link', { name: place })
        .click();
      await expect(page.getByText(words).first()).toBeVisible();
      await expectAccessible(page);
    }
    await page.getByRole('button', { name: /Odile/ }).click();
    await page.getByRole('menuitem', { name: 'Settings' }).click();
    await page.getByLabel('Postal address').fill('2 Bell Street\nEast Tarn');
    await page.getByRole('button', { name: 'Keep these settings' }).click();
    await expect(page.getByText('Kept.')).toBeVisible();
    await expectAccessible(page);
  });

  test('sends nothing by itself from a copied directory, until somebody has said how each campaign goes on', async ({
    page,
  }) => {
    const json = async (method: string, path: string, data?: unknown) =>
      (await call(page, method, `${address}/api${path}`, data)).json();
    await page.goto(address);
    await page.getByLabel('Email address').fill('odile@example.com');
    await page.getByRole('textbox', { name: 'Password' }).fill('a long enough one');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
    const tag = await json('POST', '/tags', { name: 'friend', colour: 'moss' });
    const person = await json('POST', '/people', {
      values: { address: 'friend@example.com', given_name: 'Abel' },
      permission: 'asked',
      source: 'at the door',
    });
    await call(page, 'POST', `${address}/api/tagging`, {
      people: { ids: [person.id] },
      tag: tag.id,
      put: true,
    });
    const letter = await json('POST', '/letters', { name: 'A word', template: 'note' });
    const { id } = await json('POST', '/campaigns', {
      name: 'A word to friends',
      letter: letter.id,
    });
    const { version } = await json('GET', `/campaigns/${id}`);
    const sendAt = new Date(Date.now() + 24 * 3600_000).toISOString();
    const saved = await json('PUT', `/campaigns/${id}`, {
      version,
      name: 'A word to friends',
      who: { to: [{ kind: 'tag', id: tag.id }], notTo: [] },
      letterId: letter.id,
      topicId: null,
      senderName: 'Tarn Museum',
      senderAddress: 'odile@example.com',
      replyTo: '',
      sendAt,
    });
    const { tally } = await json('GET', `/campaigns/${id}/tally`);
    expect(
      (
        await call(page, 'POST', `${address}/api/campaigns/${id}/send`, {
          version: saved.version,
          seen: tally,
        })
      ).status(),
    ).toBe(204);

    await stop();
    cpSync(directory, moved, { recursive: true });
    await start(moved);
    // Sessions were copied with the rest.
    await page.goto(address);
    await expect(
      page.getByRole('heading', { name: 'Nothing is sent until you have looked' }),
    ).toBeVisible();
    await expect(
      page.getByText('The office’s data was copied or moved to another place'),
    ).toBeVisible();
    await expectAccessible(page);
    await page.getByRole('link', { name: 'A word to friends' }).first().click();
    await expect(page.getByText('Nothing is sent at the moment')).toBeVisible();
    await page.goBack();
    const line = page
      .getByRole('table', { name: 'Campaigns that were going out or planned' })
      .getByRole('row', { name: 'A word to friends' });
    await expect(page.getByRole('button', { name: '1 still to decide' })).toBeDisabled();
    await line.getByRole('button', { name: 'Back to draft' }).click();
    await expect(line).toBeHidden();
    await page.getByRole('button', { name: 'Everything is decided: send again' }).click();
    await expect(
      page.getByRole('heading', { name: 'Nothing is sent until you have looked' }),
    ).toBeHidden();
    await page.reload();
    await expect(page.getByRole('heading', { name: 'Needs a hand' })).toBeVisible();
    await expect(
      page.getByRole('heading', { name: 'Nothing is sent until you have looked' }),
    ).toBeHidden();
  });
});

test('a member sees the own people, and of the others a number where a coordinator defined the group', async ({
  page,
}) => {
  await signIn(page, 'member');
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'Your people' })).toBeVisible();
  await page.getByRole('link', { name: 'Contacts' }).click();
  await expect(page.getByText('may be mailed')).toBeVisible();
  await expect(page.getByText(/of colleagues$/)).toBeHidden();
  await page.goto('/segments/1');
  await expect(page.getByText(/^and [\d,]+ of colleagues$/)).toBeVisible();
  await page.goto('/contacts?of=segment.1');
  await expect(page.getByText(/^and [\d,]+ of colleagues$/)).toBeVisible();
  await page.goto('/contacts?of=segment.1&q=a');
  await expect(page.getByText('may be mailed')).toBeVisible();
  await expect(page.getByText(/of colleagues$/)).toBeHidden();
  await page.getByRole('link', { name: 'Campaigns' }).click();
  await expect(page.getByRole('link', { name: 'New campaign' })).toBeHidden();
  await page.getByRole('link', { name: 'Next newsletter' }).first().click();
  await expect(page.getByText('A coordinator sends this campaign.')).toBeVisible();
});

test('a member walks every screen and meets none of the colleagues’ people', async ({
  page,
  browser,
}) => {
  const colleague = await (await browser.newContext()).newPage();
  await signIn(colleague);
  const addressesOf = async (who: Page): Promise<Set<string>> => {
    const found = new Set<string>();
    for (let from = 0; ; from += 200) {
      const { rows } = (await (
        await who.request.get(`/api/people?limit=200&from=${from}`)
      ).json()) as { rows: { address: string | null }[] };
      for (const { address } of rows) if (address) found.add(address.toLowerCase());
      if (rows.length < 200) return found;
    }
  };
  await signIn(page, 'member');
  const own = await addressesOf(page);
  const others = new Set(
    [...(await addressesOf(colleague))].filter((address) => !own.has(address)),
  );
  expect(own.size).toBeGreaterThan(20);
  expect(others.size).toBeGreaterThan(own.size);
  const [{ id: campaign } = { id: 0 }] = (await (
    await colleague.request.get('/api/results')
  ).json()) as { id: number }[];
  const { rows } = (await (await colleague.request.get('/api/people?limit=200')).json()) as {
    rows: { id: number; address: string | null }[];
  };
  const stranger =
    rows.find(({ address }) => address !== null && others.has(address.toLowerCase()))?.id ?? 0;
  expect(Math.min(campaign, stranger)).toBeGreaterThan(0);
  await colleague.context().close();
  const places = [
    '',
    'contacts',
    'contacts?of=segment.1',
    `contacts?of=campaign.${campaign}.opened`,
    `contacts/${stranger}`,
    'segments',
    'segments/1',
    'letters',
    'letters/1',
    'campaigns',
    `campaigns/${campaign}`,
    'results',
    `results/${campaign}`,
    'results/returned',
    'intake',
    'intake/1',
    'activity',
    'settings',
  ];
  for (const place of places) {
    await page.goto(`/${place}`);
    await page.waitForLoadState('networkidle');
    const text = await page.locator('body').innerText();
    expect(text.length, place).toBeGreaterThan(50);
    const met = text
      .toLowerCase()
      .split(/[^\w.+@-]/)
      .filter((word) => others.has(word));
    expect(met, place).toEqual([]);
  }
});

test('a manager reads everything and changes nothing', async ({ page }) => {
  await signIn(page, 'manager');
  await page.goto('/');
  await page.getByRole('link', { name: 'Contacts' }).click();
  await expect(page.getByText('may be mailed')).toBeVisible();
  await expect(page.getByRole('button', { name: 'New contact' })).toBeHidden();
  await expect(page.getByLabel('Choose everybody')).toBeHidden();
  await page.getByRole('link', { name: 'Results' }).click();
  await expectAccessible(page);
  await page.getByRole('table').getByRole('link').first().click();
  await expect(page.getByText('When they opened and clicked')).toBeVisible();
});

test('somebody else’s guesses keep nobody out who signed in here before', async ({
  browser,
  page,
}) => {
  // Signed in and out again: this browser is known.
  await signIn(page, 'manager');
  await page.goto('/');
  await page.getByRole('button', { name: 'Tobias Renn' }).click();
  await page.getByRole('menuitem', { name: 'Sign out' }).click();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();

  const stranger = await (await browser.newContext()).newPage();
  await stranger.goto('/');
  await stranger.getByLabel('Email address').fill('manager@quillwater.test');
  const guess = async (): Promise<void> => {
    await stranger.getByRole('textbox', { name: 'Password' }).fill('a wrong guess');
    const answered = stranger.waitForResponse('**/api/session');
    await stranger.getByRole('button', { name: 'Sign in' }).click();
    await answered;
  };
  for (let one = 0; one < 11; one++) await guess();
  await expect(stranger.getByText('Too many tries. Wait a quarter of an hour')).toBeVisible();
  await expectAccessible(stranger);
  await stranger.context().close();

  await signIn(page, 'manager');
  await page.goto('/');
  await expect(page.getByRole('button', { name: 'Tobias Renn' })).toBeVisible();
});

test('an ended session asks to sign in and comes back to the same place', async ({
  page,
  context,
}) => {
  await signIn(page);
  await page.goto('/segments/1');
  await expect(page.getByText('Readback')).toBeVisible();
  await context.clearCookies();
  await ask(page, 'region');
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await page.getByLabel('Email address').fill('coordinator@quillwater.test');
  await page.getByRole('textbox', { name: 'Password' }).fill('wrong password');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('Address and password don’t belong together.')).toBeVisible();
  await page.getByRole('textbox', { name: 'Password' }).fill('quillwater');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page).toHaveURL(/\/segments\/1$/);
  await expect(page.getByText('Readback')).toBeVisible();
});
