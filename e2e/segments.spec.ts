// Segments as the coordinator makes them: a rule built from nothing and read back, a slip noticed, a draft beside what is
// in force, lists, comparing, and a group made inside a campaign.
import { expect, test, type Locator, type Page } from '@playwright/test';
import { ask, call, expectAccessible, margin, people, pick, say, signIn } from './helpers.js';

const run = Date.now().toString(36);

async function tagged(page: Page, name: string, ids: readonly number[]): Promise<number> {
  const tag = (await (await call(page, 'POST', '/tags', { name, colour: 'moss' })).json()) as {
    id: number;
  };
  await call(page, 'POST', '/tagging', { people: { ids }, tag: tag.id, put: true });
  const has = async (): Promise<number> =>
    ((await (await call(page, 'GET', `/people/summary?tag=${tag.id}`)).json()) as { total: number })
      .total;
  await expect.poll(has).toBe(ids.length);
  return tag.id;
}

async function somebody(page: Page, values: object, permission = 'asked'): Promise<number> {
  const made = await call(page, 'POST', '/people', { values, permission, source: 'a journey' });
  return ((await made.json()) as { id: number }).id;
}

const segmentOf = async (page: Page, name: string, items: readonly object[]): Promise<number> => {
  const made = await call(page, 'POST', '/segments', {
    name: `${name} ${run}`,
    rule: { v: 1, root: { of: 'all', items } },
  });
  return ((await made.json()) as { id: number }).id;
};

const condition = (page: Page | Locator, path: string): Locator =>
  page.locator(`[data-path="${path}"]`);
const findTag = async (page: Page, within: Locator, name: string): Promise<void> => {
  await within.getByRole('button', { name: 'choose a tag' }).click();
  await page.getByRole('textbox', { name: 'Find or make a tag' }).fill(name);
  await page.getByRole('option', { name, exact: true }).first().click();
};

test('everyone tagged guest nearby who opened nothing since a letter, but nobody of one colleague and none of a tag', async ({
  page,
}) => {
  await signIn(page);
  await page.goto('/segments/new');
  await ask(page, 'tag');
  // It is kept by now, and has its address.
  await expect(page).toHaveURL(/\/segments\/\d+$/);
  await findTag(page, condition(page, '0'), 'plant sale guest');
  await ask(page, 'place');
  await condition(page, '1').getByRole('button', { name: 'Place: none yet' }).click();
  await page.getByRole('textbox', { name: 'Find a place' }).fill('quill');
  await page
    .getByRole('option', { name: /^Quillwater/ })
    .first()
    .click();
  await ask(page, 'letter');
  await pick(condition(page, '2'), 'What became of the letter', 'did not open, sent or not');
  await pick(condition(page, '2'), 'Which letters', 'letters since');
  await page.getByRole('button', { name: '+ group' }).click();
  await say(page.getByRole('group', { name: 'any of' }), 'How the conditions count', 'none of');
  const none = page.getByRole('group', { name: 'none of' });
  await ask(none, 'owner');
  await none.getByRole('group', { name: 'Choices' }).locator('label').first().click();
  await ask(none, 'tag');
  await findTag(page, condition(page, '3.1'), 'school');
  await expect(margin(page)).toContainText(
    /People tagged plant sale guest and who live within 25 km of Quillwater and who did not open any letter since .*, itself included \(or were never sent it\), but not those whose owner is .* or those tagged school\./,
  );
  // The strainer accounts for everybody, step by step, and each number opens.
  const bars = margin(page).getByRole('button', { name: /left here$/ });
  await expect(bars).toHaveCount(6);
  await expect(page.getByText('Nothing goes by this rule until you use it.')).toBeVisible();
  await expectAccessible(page);
  const size =
    (await margin(page)
      .getByRole('button', { name: /people in this segment$/ })
      .textContent()) ?? '';
  await page.getByRole('button', { name: 'Use this rule' }).click();
  await expect(
    margin(page).getByRole('link', { name: `${size} people in this segment` }),
  ).toBeVisible();
  await page.reload();
  await expect(
    margin(page).getByRole('link', { name: `${size} people in this segment` }),
  ).toBeVisible();
  await margin(page)
    .getByRole('button', { name: /fall out here$/ })
    .first()
    .click();
  await expect(page).toHaveURL(/\/contacts\?pool=1&filter=/);
  await expect(people(page).locator('tbody tr').first()).toBeVisible();
});

test('all and any switched by mistake is seen from the margin, and taken back', async ({
  page,
}) => {
  await signIn(page);
  const id = await segmentOf(page, 'Guests of Millrace', [
    { kind: 'tag', op: 'has', tags: [1] },
    { kind: 'field', field: 'town', op: 'is', value: 'Millrace' },
  ]);
  await page.goto(`/segments/${id}`);
  const size = margin(page).getByRole('link', { name: /people in this segment$/ });
  const before = await size.textContent();
  await expect(margin(page).getByRole('heading', { name: 'What if' })).toBeVisible();
  const other = margin(page).getByText(/^The whole as any of: /);
  await expect(other).toBeVisible();
  const promised = /any of: ([\d,]+)/.exec((await other.textContent()) ?? '')?.[1] ?? '?';
  await say(page.getByRole('group', { name: 'all of' }), 'How the conditions count', 'any of');
  await expect(margin(page)).toContainText('or whose town is Millrace');
  await expect(
    margin(page).getByRole('button', { name: `${promised} people in this segment` }),
  ).toBeVisible();
  await expect(page.getByRole('region', { name: 'Draft' })).toContainText('would come in');
  await page.getByRole('button', { name: 'Throw the draft away' }).click();
  await expect(size).toHaveText(before ?? '');
  await expect(page.getByRole('region', { name: 'Draft' })).toHaveCount(0);
});

test('a waiting campaign is not touched by a draft, which says that it would be', async ({
  page,
}) => {
  await signIn(page);
  const ids = [];
  for (const name of ['Ada', 'Bo', 'Cy'])
    ids.push(await somebody(page, { given_name: name, address: `${name}.${run}@example.com` }));
  const [one, two] = [`first ${run}`, `second ${run}`];
  const first = await tagged(page, one, ids);
  await tagged(page, two, ids.slice(0, 1));
  const id = await segmentOf(page, 'Waited for', [{ kind: 'tag', op: 'has', tags: [first] }]);
  const campaign = (await (
    await call(page, 'POST', '/campaigns', { name: `Waits ${run}`, segment: id })
  ).json()) as { id: number };
  await page.goto(`/segments/${id}`);
  await page
    .getByRole('button', { name: `Take ${one} off` })
    .or(page.getByRole('button', { name: new RegExp(`^Take.*${one}`) }))
    .first()
    .click();
  await findTag(page, condition(page, '0'), two);
  const draft = page.getByRole('region', { name: 'Draft' });
  await expect(draft).toContainText('2 would go');
  await expect(draft.getByRole('link', { name: `Waits ${run}` })).toBeVisible();
  await draft.getByRole('link', { name: '2 would go' }).click();
  await expect(people(page).locator('tbody tr')).toHaveCount(2);
  await page.goto(`/campaigns/${campaign.id}`);
  const matched = page.getByRole('table', { name: 'Tally' }).getByRole('row', { name: 'matched' });
  await expect(matched).toContainText('3');
  await page.goto(`/segments/${id}`);
  await page.getByRole('button', { name: 'Use this rule' }).click();
  await expect(page.getByText('The rule is in force.')).toBeVisible();
  await page.goto(`/campaigns/${campaign.id}`);
  await expect(matched).toContainText('1');
  // The older rule is kept with who and when, and comes back as a draft.
  await page.goto(`/segments/${id}`);
  await page.getByRole('button', { name: 'What else can be done with the segment' }).click();
  await page.getByRole('menuitem', { name: 'Older rules …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'compare with now' }).click();
  await expect(dialog).toContainText(`only then: tagged ${one}`);
  await dialog.getByRole('button', { name: 'bring it back as a draft' }).click();
  await expect(draft).toContainText('2 would come in');
});

test('why one person is out is said condition by condition, with what was looked at', async ({
  page,
}) => {
  await signIn(page);
  const person = await somebody(page, {
    given_name: 'Why',
    family_name: `Not${run}`,
    town: 'Ashwick',
  });
  const id = await segmentOf(page, 'Of Millrace', [
    { kind: 'everybody' },
    { kind: 'field', field: 'town', op: 'is', value: 'Millrace' },
    { kind: 'letter', did: 'opened', letters: { in: 'ever' }, many: 'none' },
  ]);
  await page.goto(`/segments/${id}?why=${person}`);
  await expect(page.getByText('Not in this segment.')).toBeVisible();
  await expect(margin(page)).toContainText('town: Ashwick');
  await expect(condition(page, '1')).toHaveAttribute('data-holds', 'false');
  await expect(condition(page, '2')).toHaveAttribute('data-holds', 'true');
});

test('a tag, a segment of it and the tally of a campaign count the same people, or say who lacks', async ({
  page,
}) => {
  await signIn(page);
  const ids = [];
  for (let at = 0; at < 15; at++)
    ids.push(
      await somebody(page, {
        given_name: `Fifteen ${at}`,
        ...(at === 14 ? {} : { address: `fifteen${at}.${run}@example.com` }),
      }),
    );
  const tag = await tagged(page, `fifteen ${run}`, ids);
  const id = await segmentOf(page, 'Fifteen', [{ kind: 'tag', op: 'has', tags: [tag] }]);
  await page.goto(`/contacts?tag=${tag}`);
  await expect(people(page).locator('tbody tr')).toHaveCount(15);
  await page.goto(`/segments/${id}`);
  await expect(margin(page).getByRole('link', { name: '15 people in this segment' })).toBeVisible();
  await page.getByRole('link', { name: 'New campaign to these' }).click();
  const tally = page.getByRole('table', { name: 'Tally' });
  await expect(tally.getByRole('row', { name: 'matched' })).toContainText('15');
  await expect(tally.getByRole('row', { name: 'will receive' })).toContainText('14');
  await tally
    .getByRole('row', { name: /no address/ })
    .getByRole('link')
    .click();
  await expect(people(page).locator('tbody tr')).toHaveCount(1);
  await expect(people(page)).toContainText('Fifteen 14');
});

test('a fixed segment is listed from a file, changed by hand, and stays as it is', async ({
  page,
}) => {
  await signIn(page);
  const live = await segmentOf(page, 'To be fixed', [
    { kind: 'field', field: 'given_name', op: 'is', value: `Listed ${run}` },
  ]);
  for (const at of [1, 2, 3])
    await somebody(page, {
      given_name: `Listed ${run}`,
      family_name: `No ${at}`,
      address: `listed${at}.${run}@example.com`,
    });
  await page.goto(`/segments/${live}`);
  await page.getByRole('button', { name: 'What else can be done with the segment' }).click();
  await page.getByRole('menuitem', { name: 'Copy as a fixed segment of now' }).click();
  await expect(page.getByText('fixed: who is listed')).toBeVisible();
  const listed = page.getByRole('table', { name: 'People listed' }).locator('tbody tr');
  await expect(listed).toHaveCount(3);
  await somebody(page, {
    given_name: `Later ${run}`,
    address: `later.${run}@example.com`,
  });
  await page.getByRole('button', { name: '+ by addresses or a file' }).click();
  await page.getByLabel('A file with addresses').setInputFiles({
    name: 'list.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`email\nLATER.${run}@example.com\nnobody.${run}@example.net\n`),
  });
  await expect(page.getByRole('dialog')).toContainText('1 person put in');
  await expect(page.getByRole('dialog')).toContainText(`nobody.${run}@example.net`);
  await page.keyboard.press('Escape');
  await expect(listed).toHaveCount(4);
  await page.getByRole('button', { name: '– a person' }).click();
  await page.getByRole('textbox', { name: 'Take somebody out' }).fill(`listed1.${run}`);
  await page
    .getByRole('option')
    .filter({ hasText: `listed1.${run}` })
    .click();
  await expect(listed).toHaveCount(3);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(listed).toHaveCount(4);
  await expectAccessible(page);
});

test('two segments are compared to the person, and combined into one that follows them', async ({
  page,
}) => {
  await signIn(page);
  const ids = [];
  for (const at of [1, 2, 3, 4, 5])
    ids.push(await somebody(page, { given_name: `Pair ${at} ${run}` }));
  const one = await tagged(page, `left hand ${run}`, ids.slice(0, 3));
  const two = await tagged(page, `right hand ${run}`, ids.slice(2));
  const a = await segmentOf(page, 'Left', [{ kind: 'tag', op: 'has', tags: [one] }]);
  const b = await segmentOf(page, 'Right', [{ kind: 'tag', op: 'has', tags: [two] }]);
  await page.goto(`/segments/compare?of=${a}`);
  await page.getByRole('button', { name: '+ segment' }).click();
  await page.getByRole('textbox', { name: 'Find a segment' }).fill(`Right ${run}`);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(new RegExp(`of=${a}%2C${b}`));
  await expect(page.getByRole('button', { name: '1 in A and B' })).toBeVisible();
  await expect(page.getByRole('button', { name: '2 only in A' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: '2 only in B' }).click();
  await expect(people(page).locator('tbody tr')).toHaveCount(2);
  await page.goBack();
  await page.getByRole('button', { name: 'Combine into a new one' }).click();
  await pick(page.getByRole('dialog'), 'How they are put together', 'the first without the others');
  await page.getByRole('button', { name: 'Make it' }).click();
  await expect(page).toHaveURL(/\/segments\/\d+$/);
  await expect(margin(page).getByRole('link', { name: '2 people in this segment' })).toBeVisible();
  // Its rule goes to a file, and comes in as a segment of its own.
  const address = page.url();
  const file = await page.request.get(`/api/segments/${address.split('/').at(-1) ?? ''}/file`);
  await page.goto('/segments');
  await page.getByLabel('A file with a segment').setInputFiles({
    name: 'segment.json',
    mimeType: 'application/json',
    buffer: await file.body(),
  });
  await expect(page.getByText('Nothing goes by this rule until you use it.')).toBeVisible();
  await expect(
    margin(page).getByRole('button', { name: '2 people in this segment' }),
  ).toBeVisible();
});

test('a group is made inside a campaign, for it alone or as a segment, and overlaps are said', async ({
  page,
}) => {
  await signIn(page);
  const ids = [];
  for (const at of [1, 2, 3])
    ids.push(
      await somebody(page, {
        given_name: `Spot ${at}`,
        town: `Spot ${run}`,
        address: `spot${at}.${run}@example.com`,
      }),
    );
  const tag = await tagged(page, `spot ${run}`, ids.slice(0, 2));
  const id = await segmentOf(page, 'Spot', [{ kind: 'tag', op: 'has', tags: [tag] }]);
  const campaign = (await (
    await call(page, 'POST', '/campaigns', { name: `Spot ${run}`, segment: id })
  ).json()) as { id: number };
  await page.goto(`/campaigns/${campaign.id}`);
  await page.getByRole('button', { name: '+ made here' }).click();
  const dialog = page.getByRole('dialog');
  await ask(dialog, 'town');
  await dialog.getByRole('combobox', { name: 'Value' }).fill(`Spot ${run}`);
  await page.keyboard.press('Escape');
  await expect(dialog.getByText(/^3 people\./)).toBeVisible();
  await dialog.getByRole('button', { name: 'Use it here only' }).click();
  const matched = page.getByRole('table', { name: 'Tally' }).getByRole('row', { name: 'matched' });
  await expect(matched).toContainText('3');
  await expect(page.getByText(/2 are in more than one of these/)).toBeVisible();
  await page.getByRole('link', { name: '2 in more than one' }).click();
  await expect(people(page).locator('tbody tr')).toHaveCount(2);
});
