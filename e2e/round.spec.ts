// The whole round: from a spreadsheet to who answered, and the next campaign that holds back who left.
import { expect, test } from '@playwright/test';
import {
  ask,
  expectAccessible,
  figures as figuresOf,
  lettersTo,
  margin,
  outside,
  people as table,
  pick,
  say,
  signIn,
} from './helpers.js';

const run = Date.now().toString(36);
const keen = ['keen.ada', 'keen.bo', 'keen.cy'].map((name) => `${name}.${run}@example.com`);
const quiet = ['quiet.dot', 'quiet.eli'].map((name) => `${name}.${run}@example.org`);
const leaver = `leaver.fay.${run}@example.net`;
const dead = `dead.gil.${run}@example.com`;
const full = `full.hal.${run}@example.com`;
const people = [...keen, ...quiet, leaver, dead, full];

/** Semicolons, Windows-1252, a column nobody knows, a formula, three rows that must be refused. */
function spreadsheet(): Buffer {
  const rows = people.map(
    (address, at) =>
      `${['Ada', 'Bó', 'Cy', 'Dot', 'Éli', 'Fay', 'Gil', 'Hal'][at]};Journey;${address};Millrace;${at === 0 ? '=1+1' : 'fern'}`,
  );
  const bad = [
    'No;Address;;Millrace;',
    `Broken;Address;broken at example.com;Millrace;`,
    `Many;Cells;keen.many.${run}@example.com;Millrace;fern;one;more`,
  ];
  return Buffer.from(
    ['First name;Surname;E-Mail;Town;Favourite', ...rows, ...bad].join('\r\n'),
    'latin1',
  );
}

test('one contact list goes through the entire round', async ({ page, request }) => {
  await signIn(page);
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'Goes out next' })).toBeVisible();
  await expectAccessible(page);

  await test.step('import', async () => {
    await page.getByRole('link', { name: 'Intake' }).click();
    await page
      .getByLabel('Choose a file')
      .setInputFiles({ name: `fair ${run}.csv`, mimeType: 'text/csv', buffer: spreadsheet() });
    await expect(page.getByText('11 rows · nothing has changed yet')).toBeVisible();
    await expect(page.getByRole('combobox', { name: 'Encoding' })).toHaveValue(/^Windows-1252/);
    await expect(page.getByRole('combobox', { name: 'Separator' })).toHaveValue('semicolon');
    await expect(page.getByRole('combobox', { name: 'What the column E-Mail fills' })).toHaveValue(
      'email address',
    );
    await expect(page.getByRole('combobox', { name: 'What the column Surname fills' })).toHaveValue(
      'family name',
    );
    await expect(
      page.getByRole('combobox', { name: 'What the column Favourite fills' }),
    ).toHaveValue('nothing, left out');
    await page.getByRole('button', { name: '+ new field' }).click();
    await page.getByRole('textbox', { name: 'Name of the field' }).fill(`favourite ${run}`);
    await page.getByRole('button', { name: 'Make this field' }).click();
    await expect(
      page.getByRole('combobox', { name: 'What the column Favourite fills' }),
    ).toHaveValue(`favourite ${run}`);
    await say(page, 'How these people gave permission', 'asked for it');
    await page.getByLabel('Where and when they agreed').fill('sign-up sheet at the fair');
    await page.getByRole('button', { name: '+ tag for all of them' }).click();
    await page.getByRole('textbox', { name: 'Find or make a tag' }).fill(`fair ${run}`);
    await page.getByRole('option', { name: `Make the tag “fair ${run}”` }).click();
    await expect(page.getByRole('listbox')).toBeHidden();
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Bring in 8 people' }).click();
    await expect(page.getByText('done,')).toBeVisible();
    const figures = figuresOf(page);
    await expect(figures.getByRole('link', { name: '8' })).toBeVisible();
    await expect(page.getByRole('cell', { name: 'there is no address' })).toBeVisible();
    await expect(
      page.getByRole('cell', { name: 'the row has 7 cells, the header 5' }),
    ).toBeVisible();
    const download = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Take all 3 as CSV' }).click();
    const stream = await (await download).createReadStream();
    let csv = '';
    for await (const chunk of stream) csv += String(chunk);
    expect(csv).toContain('what is wrong');
    expect(csv).toContain('broken at example.com');
    await expectAccessible(page);
    await figures.getByRole('link', { name: '8' }).click();
    await expect(page.getByText('8 people', { exact: true })).toBeVisible();
  });

  await test.step('contacts: find, tag, take back', async () => {
    await page.getByRole('link', { name: 'Contacts' }).click();
    await expect(page.getByRole('heading', { name: 'Everybody' })).toBeVisible();
    await page.getByLabel('Search by name, address, street, phone or tag').fill(`journey ${run}`);
    await expect(page.getByText('8 people', { exact: true })).toBeVisible();
    await expectAccessible(page);
    await page.getByLabel('Choose everybody').click();
    await page.getByRole('button', { name: 'Tag', exact: true }).click();
    await page.getByRole('textbox', { name: 'Find or make a tag' }).fill('donor');
    await page.keyboard.press('Enter');
    await expect(page.getByText('Tagged “donor”: 8 people.')).toBeVisible();
    await expect(table(page).locator('tbody [title="donor"]')).toHaveCount(8);
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(page.getByText('Took back: tagged “donor”: 8 people.')).toBeVisible();
    await expect(table(page).locator('tbody [title="donor"]')).toHaveCount(0);
  });

  await test.step('a person: fields in place, with undo', async () => {
    await page.getByRole('link', { name: 'Journey, Ada' }).click();
    await expect(page.getByRole('heading', { name: 'Ada Journey' })).toBeVisible();
    await expect(page.getByText('1 of 8')).toBeVisible();
    await expect(page.getByText('=1+1')).toBeVisible();
    await page.getByRole('button', { name: 'town: Millrace. Edit' }).click();
    await page.getByRole('combobox', { name: 'town', exact: true }).fill('Saltcote');
    await page.keyboard.press('Enter');
    await expect(page.getByText(/^Changed town: /)).toBeVisible();
    await expect(
      page.getByText('(town from “Millrace” to “Saltcote”) by Ines Marlow'),
    ).toBeVisible();
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Next person' }).click();
    await expect(page.getByText('2 of 8')).toBeVisible();
  });

  await test.step('segment', async () => {
    await page.getByRole('link', { name: 'Segments' }).click();
    await page.getByRole('link', { name: 'New segment' }).click();
    await expect(page.getByText('kept as soon as it has a name or a condition')).toBeVisible();
    await page.getByRole('button', { name: /^Name of the segment: / }).click();
    await page.getByLabel('Name of the segment').fill(`Fair people ${run}`);
    await page.keyboard.press('Enter');
    await ask(page, 'tag');
    await page.getByRole('button', { name: 'choose a tag' }).click();
    await page.getByRole('textbox', { name: 'Find or make a tag' }).fill(`fair ${run}`);
    await page.keyboard.press('Enter');
    await expect(
      margin(page).getByRole('button', { name: '8 people in this segment' }),
    ).toBeVisible();
    await page.getByRole('button', { name: '+ group' }).click();
    const group = page.getByRole('group', { name: 'any of' });
    await say(group, 'How the conditions count', 'none of');
    const none = page.getByRole('group', { name: 'none of' });
    await ask(none, 'given name');
    await none.getByRole('combobox', { name: 'Value' }).fill('éli');
    await expect(margin(page)).toContainText(
      `People tagged fair ${run}, but not those whose given name is éli.`,
    );
    await expect(
      margin(page).getByRole('button', { name: '7 people in this segment' }),
    ).toBeVisible();
    await page.getByRole('button', { name: 'ask about a person' }).click();
    await page.getByRole('textbox', { name: 'Ask about a person' }).fill(`Journey, Éli ${run}`);
    await page.getByRole('option', { name: 'Journey, Éli' }).click();
    await expect(page.getByText('Not in this segment.')).toBeVisible();
    await none.getByRole('button', { name: 'What to do with this group' }).click();
    await page.getByRole('menuitem', { name: 'Take it out' }).click();
    await expect(
      margin(page).getByRole('button', { name: '8 people in this segment' }),
    ).toBeVisible();
    await expect(page.getByText('Nothing goes by this rule until you use it.')).toBeVisible();
    await page.getByRole('button', { name: 'Use this rule' }).click();
    await expect(page.getByText('The rule is in force.')).toBeVisible();
    await expect(
      margin(page).getByRole('link', { name: '8 people in this segment' }),
    ).toBeVisible();
    await expectAccessible(page);
  });

  await test.step('letter', async () => {
    await page.getByRole('link', { name: 'Letters' }).click();
    await page.getByRole('button', { name: 'New letter' }).click();
    await page.getByLabel('Name').fill(`Fair letter ${run}`);
    await page.getByRole('button', { name: 'Start from this: Short personal note' }).click();
    await page.getByRole('textbox', { name: 'Subject' }).click();
    await page.keyboard.press('Control+A');
    await page.keyboard.type('Good to have met you, ');
    await page.locator('#block-subject').getByRole('button', { name: '+ personal field' }).click();
    await page.getByRole('option', { name: 'given name' }).click();
    await page.locator('#block-subject [data-field]').click();
    await page.getByRole('textbox', { name: 'Where it is missing' }).fill('');
    await page
      .getByRole('textbox', { name: 'Where it is missing' })
      .pressSequentially('good friend');
    await expect(page.locator('#block-subject [data-field]')).toHaveText(
      'given name, or “good friend”',
    );
    await page.getByRole('textbox', { name: 'Text' }).click();
    await page.keyboard.press('Control+End');
    await page.keyboard.press('Enter');
    await page.keyboard.type('{{ typed braces stay as they are }}');
    await page.getByRole('button', { name: '+ put something here' }).last().click();
    await page.getByRole('menuitem', { name: 'button' }).click();
    await page.getByRole('textbox', { name: 'Words on the button' }).click();
    await page.keyboard.type('See the pictures');
    await expect(margin(page).getByText('“See the pictures” leads nowhere.')).toBeVisible();
    await page.getByRole('textbox', { name: 'leads to' }).fill(`${outside}/garden/pictures`);
    await expect(margin(page).getByText('Everything that can be checked here')).toBeVisible();
    await expect(page.getByRole('status').filter({ hasText: /^saved$/ })).toBeVisible();
    await expectAccessible(page);
    await say(page, 'Show', 'wide');
    const frame = page.frameLocator('iframe');
    await expect(frame.getByText('{{ typed braces stay as they are }}')).toBeVisible();
    await expect(frame.getByText('Dear friend,')).toBeVisible();
    await page.getByRole('button', { name: /nobody in particular/ }).click();
    await page.getByRole('textbox', { name: 'Find a person' }).fill(`keen.ada.${run}`);
    await page.getByRole('option', { name: 'Journey, Ada' }).click();
    await expect(frame.getByText('Dear Ada,')).toBeVisible();
    await page.reload();
    await expect(page.frameLocator('iframe').getByText('Dear Ada,')).toBeVisible();
  });

  await test.step('campaign: tally, checks, proof, send', async () => {
    await page.getByRole('link', { name: 'Segments' }).click();
    await page.getByRole('link', { name: `Fair people ${run}` }).click();
    await page.getByRole('link', { name: 'New campaign to these' }).click();
    await expect(margin(page).getByText('No letter is chosen yet.')).toBeVisible();
    await pick(page, 'Letter', `Fair letter ${run}`);
    await page.getByRole('button', { name: '+ leave out' }).click();
    await page.getByRole('textbox', { name: 'Find a segment or tag' }).fill('press');
    await page.keyboard.press('Enter');
    const tally = page.getByRole('table', { name: 'Tally' });
    await expect(tally.getByRole('row', { name: 'matched' })).toContainText('8');
    await expect(tally.getByRole('row', { name: 'will receive' })).toContainText('8');
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Proof to myself' }).click();
    await expect(
      page.getByText('A proof is on its way to coordinator@quillwater.test.'),
    ).toBeVisible();
    await expect
      .poll(async () => (await lettersTo(request, 'coordinator@quillwater.test'))[0]?.subject)
      .toMatch(/^Proof: Good to have met you, /);
    await page.getByRole('button', { name: 'Send to 8 people' }).click();
    await expect(page.getByRole('dialog').getByText('Good to have met you')).toBeVisible();
    await page.getByRole('dialog').getByRole('button', { name: 'Send to 8 people now' }).click();
    // Ten seconds to say not yet, on the sheet; the dialog that fades has a button of that name, too.
    await page.getByRole('main').getByRole('button', { name: 'Not yet' }).click();
    await page.getByRole('button', { name: 'Send to 8 people' }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Send to 8 people now' }).click();
    await expect(page.getByText(/^The first letter leaves in \d+ seconds/)).toBeVisible();
    await expect(page.getByRole('link', { name: 'See what comes back' })).toBeVisible({
      timeout: 60_000,
    });
    await expect(page.getByRole('row', { name: /accepted by the mail servers/ })).toContainText(
      '7',
    );
    await expect(page.getByRole('row', { name: /bounced/ })).toContainText('1');
    await expectAccessible(page);
  });

  await test.step('what arrived', async () => {
    const [letter] = await lettersTo(request, keen[0] ?? '');
    expect(letter?.subject).toBe('Good to have met you, Ada');
    expect(letter?.text).toContain('{{ typed braces stay as they are }}');
    expect(letter?.headers.find(({ key }) => key === 'list-unsubscribe-post')?.value).toBe(
      'List-Unsubscribe=One-Click',
    );
    expect(await lettersTo(request, full)).toHaveLength(1);
    expect(await lettersTo(request, dead)).toHaveLength(0);
  });

  await test.step('results', async () => {
    await page.getByRole('link', { name: 'See what comes back' }).click();
    const figures = figuresOf(page);
    // Three keen, one leaver and one whose mailbox was full open; the keen click; one leaves.
    await expect(figures).toContainText('7delivered, 87.5 % of sent');
    await expect(figures).toContainText('5opened, 71.4 % of delivered', { timeout: 60_000 });
    await expect(figures).toContainText('3clicked, 42.9 % of delivered', { timeout: 60_000 });
    await expect(figures).toContainText('1left, 14.3 % of delivered', { timeout: 60_000 });
    await expect(page.getByText('See the pictures')).toBeVisible();
    await expectAccessible(page);
    await figures.getByRole('link', { name: '1', exact: true }).last().click();
    await expect(page.getByRole('heading', { name: /who left after/ })).toBeVisible();
    await page.getByRole('link', { name: 'Journey, Fay' }).click();
    await expect(page.getByText('On do not mail')).toBeVisible();
    await expect(
      page.getByRole('list', { name: 'What happened' }).getByText(/left$/).first(),
    ).toBeVisible();
  });

  await test.step('a later import does not bring the leaver back', async () => {
    await page.getByRole('link', { name: 'Intake' }).click();
    await page.getByLabel('Choose a file').setInputFiles({
      name: 'again.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(`email,town\n${leaver},Ashwick\n`),
    });
    await say(page, 'How these people gave permission', 'asked for it');
    await page.getByLabel('Where and when they agreed').fill('a newer list');
    await page.getByRole('button', { name: 'Bring in 1 person' }).click();
    await expect(page.getByText('done,')).toBeVisible();
    await figuresOf(page).getByRole('link', { name: '1' }).click();
    await page.getByRole('link', { name: 'Journey, Fay' }).click();
    await expect(page.getByText('On do not mail')).toBeVisible();
  });

  await test.step('the next campaign to the same segment holds them back, one by one', async () => {
    await page.getByRole('link', { name: 'Campaigns' }).click();
    await page.getByRole('button', { name: `Copy Fair people ${run}` }).click();
    await page.getByRole('button', { name: 'With the same letter' }).click();
    const tally = page.getByRole('table', { name: 'Tally' });
    await expect(tally.getByRole('row', { name: 'do not mail' })).toContainText('2');
    await expect(tally.getByRole('row', { name: 'will receive' })).toContainText('6');
    await tally.getByRole('row', { name: 'do not mail' }).getByRole('link').click();
    await expect(page.getByText('Journey, Fay')).toBeVisible();
    await expect(page.getByText('Journey, Gil')).toBeVisible();
  });
});
