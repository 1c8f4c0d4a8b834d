// What comes back later: notices, complaints and replies; the reader's own page; machines kept apart.
import { expect, test } from '@playwright/test';
import {
  call,
  expectAccessible,
  figures,
  lettersTo,
  margin as marginOf,
  pick,
  say,
  sendTo,
  signIn,
} from './helpers.js';

const run = Date.now().toString(36);
const at = (name: string): string => `${name}.${run}@example.com`;

test('late notices, complaints and replies find their letter, and the doubtful one waits for a person', async ({
  page,
}) => {
  await signIn(page);
  const name = `Late ${run}`;
  const id = await sendTo(
    page,
    name,
    ['late', 'latefull', 'angry', 'replies', 'away', 'oddnotice', 'keen', 'scanned', 'proxied'].map(
      at,
    ),
  );
  await page.goto(`/results/${id}`);
  const margin = marginOf(page);
  // One notice is by the book, one in its server's own words; both came to the letter's own address.
  await expect(margin.getByRole('row', { name: /dead address/ })).toContainText('2', {
    timeout: 60_000,
  });
  await expect(margin.getByRole('row', { name: /came back for now/ })).toContainText('1');
  await expect(margin.getByText('1 replied, 1 complained')).toBeVisible({ timeout: 60_000 });
  await expect(
    margin.getByText(/For 1 people a machine opened the letter, for 1 one followed a link/),
  ).toBeVisible({ timeout: 60_000 });
  await expectAccessible(page);

  await test.step('the complaint puts its reader on do not mail', async () => {
    await margin.getByRole('link', { name: '1 complained' }).click();
    await page.getByRole('link', { name: `${name}, angry` }).click();
    await expect(page.getByText('On do not mail')).toBeVisible();
    await expect(
      page.getByRole('list', { name: 'What happened' }).getByText(`Got ${name}`),
    ).toBeVisible();
    await expect(
      page.getByRole('list', { name: 'What happened' }).getByText('complained'),
    ).toBeVisible();
  });

  await test.step('what names only an address is sorted by hand', async () => {
    await page.getByRole('link', { name: 'Results' }).click();
    await page.getByRole('link', { name: 'Mail that came back' }).click();
    const notice = page
      .getByRole('listitem')
      .filter({ hasText: 'failure notice' })
      .filter({ hasText: 'it may be about' });
    await expect(notice).toHaveCount(1);
    await notice.getByRole('button', { name: 'See to it' }).click();
    await expect(notice).toContainText('no mailbox here by that name');
    await expectAccessible(page);
    await notice.getByRole('button', { name: 'The address is dead' }).click();
    await expect(notice).toHaveCount(0);
    const answer = page.getByRole('listitem').filter({ hasText: at('replies') });
    await answer.getByRole('button', { name: 'See to it' }).click();
    await expect(answer).toContainText('Is there room for two more');
    // What went above lets it move up: a press may meet nothing.
    await expect(async () => {
      if ((await answer.count()) > 0)
        await answer.getByRole('button', { name: 'Seen to' }).click({ timeout: 2000 });
      await expect(answer).toHaveCount(0, { timeout: 5000 });
    }).toPass();
  });
});

test('a reader chooses topics and leaves by the letter, and does everything else by a link that is mailed, on a phone and without scripts', async ({
  page,
  browser,
  request,
}) => {
  await signIn(page);
  const { topics } = (await (await call(page, 'GET', '/vocabulary')).json()) as {
    topics: { id: number; name: string }[];
  };
  const news = topics.find(({ name }) => name === 'Newsletter')?.id ?? 0;
  const reader = at('quiet');
  const moved = at('quiet.new');
  await sendTo(page, `Topics ${run}`, [reader], news);
  const [letter] = await lettersTo(request, reader);
  const byLetter =
    /<(http[^>]+)>/.exec(
      letter?.headers.find(({ key }) => key === 'list-unsubscribe')?.value ?? '',
    )?.[1] ?? '';
  /** The link of the latest mail to an address that leads to a place. */
  const mailed = async (to: string, place: string): Promise<string> => {
    const found = async (): Promise<string> =>
      (await lettersTo(request, to))
        .map(({ text }) => new RegExp(`http://\\S+/${place}/[\\w-]+`).exec(text)?.[0] ?? '')
        .find((link) => link !== '') ?? '';
    await expect.poll(found, { timeout: 20_000 }).not.toBe('');
    return found();
  };

  const context = await browser.newContext({
    viewport: { width: 360, height: 740 },
    javaScriptEnabled: false,
  });
  const phone = await context.newPage();
  const fits = async (): Promise<void> =>
    expect(
      await phone.evaluate(() => document.documentElement.scrollWidth).catch(() => 360),
    ).toBeLessThanOrEqual(360);
  await phone.goto(byLetter);
  await expect(phone.getByText('Quillwater Garden').first()).toBeVisible();
  await fits();
  // Whoever a letter is passed on to reads nothing of its reader.
  await expect(phone.getByText(`${reader.slice(0, 1)}…@`)).toBeVisible();
  for (const hidden of [reader, `Topics ${run}`])
    expect(await phone.content()).not.toContain(hidden);
  await phone.getByRole('checkbox', { name: /Newsletter/ }).uncheck();
  await phone.getByRole('button', { name: 'Keep my choice' }).click();
  await expect(phone.getByText('Your choice is kept.')).toBeVisible();
  await expect(phone.getByRole('checkbox', { name: /Newsletter/ })).not.toBeChecked();
  await phone.getByRole('button', { name: 'Yes, no more letters' }).click();
  await expect(phone.getByRole('heading', { name: 'You have left' })).toBeVisible();
  await phone.getByRole('button', { name: 'Mail me the link' }).click();
  await expect(phone.getByText('We are sending a letter with a link')).toBeVisible();

  await phone.goto(await mailed(reader, 'yours'));
  await fits();
  await phone.getByRole('button', { name: /^Send me letters from .* again/ }).click();
  await expect(phone.getByText('Good to have you back')).toBeVisible();
  await phone.getByLabel('First name').fill('Sefa');
  await phone.getByLabel('Email address').fill(moved);
  await phone.getByRole('button', { name: 'Keep this' }).click();
  await expect(phone.getByText(`We are sending a letter to ${moved}`)).toBeVisible();

  await phone.goto(await mailed(moved, 'confirm'));
  await phone.getByRole('button', { name: 'Yes, that is my address' }).click();
  await expect(phone.getByText(`Our letters now go to ${moved}`)).toBeVisible();
  // The mailbox that was asked first hears of it, and takes it back.
  await phone.goto(await mailed(reader, 'back'));
  await fits();
  await phone.getByRole('button', { name: 'Send them to my old address again' }).click();
  await expect(phone.getByText(`Our letters now go to ${reader}`)).toBeVisible();
  await context.close();

  await page.goto(`/contacts?q=${encodeURIComponent(reader)}`);
  await page.getByRole('link', { name: `Topics ${run}, Sefa` }).click();
  await expect(page.getByText('Chose not to get: Newsletter.')).toBeVisible();
  await expect(page.getByText('wanted letters again, by its link')).toBeVisible();
  await expect(page.getByText('corrected own data, by its link')).toBeVisible();
  await page.goto('/campaigns');
  await page.getByRole('button', { name: `Copy Topics ${run}` }).click();
  await page.getByRole('button', { name: 'With a copy of the letter' }).click();
  await expect(
    page
      .getByRole('table', { name: 'Tally' })
      .getByRole('row', { name: 'chose not to get this topic' }),
  ).toContainText('1');
});

test('an import is taken back from the activity log, and what changed since is named', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/intake');
  await page.getByLabel('Choose a file').setInputFiles({
    name: `undo ${run}.csv`,
    mimeType: 'text/csv',
    buffer: Buffer.from(
      `first name,surname,email\nOne,Undo${run},${at('one')}\nTwo,Undo${run},${at('two')}\n`,
    ),
  });
  await say(page, 'How these people gave permission', 'asked for it');
  await page.getByLabel('Where and when they agreed').fill('a list');
  await page.getByRole('button', { name: 'Bring in 2 people' }).click();
  await expect(page.getByText('done,')).toBeVisible();
  await figures(page).getByRole('link', { name: '2' }).click();
  await page.getByRole('link', { name: `Undo${run}, Two` }).click();
  await page.getByRole('button', { name: /^town: none/ }).click();
  await page.getByRole('combobox', { name: 'town', exact: true }).fill('Saltcote');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/^Changed town: /)).toBeVisible();

  await page.getByRole('button', { name: 'Ines Marlow' }).click();
  await page.getByRole('menuitem', { name: 'Activity' }).click();
  await expectAccessible(page);
  const line = page
    .getByRole('listitem')
    .filter({ hasText: `Imported “undo ${run}.csv”: 2 people.` });
  await line.getByRole('button', { name: 'Undo' }).click();
  await expect(line).toContainText('taken back');
  const undoing = page
    .getByRole('listitem')
    .filter({ hasText: `Took back: imported “undo ${run}.csv”` });
  await expect(undoing).toContainText('1 person was left as they are: changed again since.');
  await undoing.getByRole('link', { name: '1 person' }).last().click();
  await expect(page.getByRole('link', { name: `Undo${run}, Two` })).toBeVisible();
  await page.goto('/intake');
  await page
    .getByRole('link', { name: `undo ${run}.csv` })
    .first()
    .click();
  await expect(page.getByText('Taken back: 1 person.')).toBeVisible();
  await figures(page).getByRole('link', { name: '2' }).click();
  await expect(page.getByText('and 1 deleted since')).toBeVisible();

  // Taking it back is taken back: who went is there again.
  await page.goBack();
  await page.getByText('Taken back: 1 person.').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: /^Take it back/ })).toBeVisible();
  await figures(page).getByRole('link', { name: '2' }).click();
  await expect(page.getByRole('link', { name: `Undo${run}, One` })).toBeVisible();
});

test('a file without a header loses nobody, and a quotation mark that is never closed refuses its row by its line', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/intake');
  const rows = [
    `Ada,Bare${run},${at('ada')}`,
    `Bo,Bare${run},${at('bo')}`,
    `"Cy,Bare${run},${at('cy')}`,
    `Di,Bare${run},"${at('di')}`,
    `Bo,Bare${run},${at('bo')}`,
  ];
  await page.getByLabel('Choose a file').setInputFiles({
    name: `bare ${run}.csv`,
    mimeType: 'text/csv',
    buffer: Buffer.from(`${rows.join('\n')}\n`),
  });
  const header = page.getByRole('combobox', { name: 'Header', exact: true });
  await expect(header).toHaveValue('none: the first row is a person');
  await expect(page.getByText('4 rows · nothing has changed yet')).toBeVisible();
  await header.click();
  await page.getByRole('option', { name: /^row 1:/ }).click();
  await expect(page.getByText('3 rows · nothing has changed yet')).toBeVisible();
  await pick(page, 'Header', 'none: the first row is a person');
  await expect(page.getByText('4 rows · nothing has changed yet')).toBeVisible();
  await pick(page, 'What the column 1 fills', 'given name');
  await pick(page, 'What the column 2 fills', 'family name');
  await page.getByRole('button', { name: 'Bring in 2 people' }).click();
  await expect(page.getByText('done,')).toBeVisible();
  const sum = page.getByRole('table', { name: 'Rows of the file' });
  await expect(sum.getByRole('row', { name: 'said again' })).toContainText('1');
  await expect(sum.getByRole('row', { name: 'new people' })).toContainText('2');
  const refused = page.getByRole('row', { name: /quotation mark/ });
  await expect(refused.getByRole('cell').first()).toHaveText('3');
  await expectAccessible(page);
});
