// Tags in a place of their own: described, told apart, merged and deleted with what names them, and taken back.
import { expect, test, type Page } from '@playwright/test';
import { call, expectAccessible, margin, people, signIn } from './helpers.js';

const run = Date.now().toString(36);
const tags = (page: Page) => page.getByRole('table', { name: 'Tags' });
const row = (page: Page, name: string) =>
  tags(page)
    .getByRole('row')
    .filter({ has: page.getByRole('button', { name, exact: true }) });

async function make(page: Page, name: string, count: number): Promise<number> {
  const tag = (await (await call(page, 'POST', '/tags', { name, colour: 'ochre' })).json()) as {
    id: number;
  };
  const found = (await (await call(page, 'GET', `/people?limit=${count}&pool=1`)).json()) as {
    rows: { id: number }[];
  };
  await call(page, 'POST', '/tagging', {
    people: { ids: found.rows.map(({ id }) => id) },
    tag: tag.id,
    put: true,
  });
  return tag.id;
}

test('a tag is made, described, recoloured, merged into its twin, and comes back', async ({
  page,
}) => {
  const [one, twin] = [`orchard friend ${run}`, `orchard friends ${run}`];
  await signIn(page);
  await make(page, twin, 7);
  await page.goto('/contacts');
  await page.getByRole('button', { name: 'Everybody', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Tags' }).click();
  await page.getByRole('button', { name: 'New tag' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill(twin.toUpperCase());
  await page.getByRole('button', { name: 'Make it' }).click();
  await expect(page.getByText(`There is a tag “${twin}” already.`)).toBeVisible();
  await page.getByRole('textbox', { name: 'Name' }).fill(one);
  await page.getByRole('button', { name: 'Make it' }).click();
  // It looks like the other one, and says so at once.
  await expect(margin(page).getByRole('heading', { name: 'Looks like another' })).toBeVisible();
  await margin(page)
    .getByRole('button', { name: /^What it is for: / })
    .click();
  await page.keyboard.type('Keeps an apple tree');
  await page.keyboard.press('Enter');
  const kept = page.waitForResponse(
    (answer) => answer.ok() && answer.request().postData()?.includes('lagoon') === true,
  );
  await margin(page).getByRole('radio', { name: 'lagoon' }).click();
  await expect(row(page, one)).toContainText('Keeps an apple tree');
  await kept;
  await expectAccessible(page);
  await page.reload();
  await expect(margin(page).getByRole('radio', { name: 'lagoon' })).toBeChecked();

  await page
    .getByRole('radiogroup', { name: 'Which' })
    .getByText(/^alike/)
    .click();
  await tags(page).getByRole('button', { name: twin, exact: true }).click();
  await expect(margin(page).getByRole('table', { name: `Who has “${twin}” alone` })).toContainText(
    '7',
  );
  await margin(page)
    .getByRole('button', { name: `Merge into “${one}”` })
    .first()
    .click();
  await expect(page.getByText(/^Merged the tag/)).toContainText('7 people');
  await page.getByRole('radiogroup', { name: 'Which' }).getByText('all', { exact: true }).click();
  await expect(row(page, twin)).toHaveCount(0);
  await expect(row(page, one)).toContainText('7');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(row(page, twin)).toContainText('7');
  await expect(row(page, one)).toContainText('0');

  await tags(page).getByRole('button', { name: twin, exact: true }).click();
  await margin(page).getByRole('button', { name: 'They are not the same' }).click();
  await expect(margin(page).getByRole('heading', { name: 'Looks like another' })).toHaveCount(0);
});

test('a tag that is used is deleted with its uses, and taken back from the log', async ({
  page,
}) => {
  const name = `trellis ${run}`;
  await signIn(page);
  const tag = await make(page, name, 5);
  const segment = (await (
    await call(page, 'POST', '/segments', {
      name: `Trellis people ${run}`,
      pools: [1],
      rule: { v: 1, root: { of: 'all', items: [{ kind: 'tag', op: 'has', tags: [tag] }] } },
    })
  ).json()) as { id: number };
  await page.goto(`/contacts/tags?tag=${tag}`);
  await expect(margin(page).getByRole('link', { name: `Trellis people ${run}` })).toBeVisible();
  await margin(page).getByRole('button', { name: 'Delete it …' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('It is taken off 5 people.');
  await expect(dialog).toContainText(`Trellis people ${run}`);
  await dialog.getByRole('button', { name: 'Delete it' }).click();
  await expect(row(page, name)).toHaveCount(0);
  await page.goto(`/segments/${segment.id}`);
  await expect(page.getByText(name)).toHaveCount(0);
  await page.goto('/activity');
  const line = page.getByRole('listitem').filter({ hasText: `deleted the tag “${name}”` });
  await line
    .or(page.getByText(`Deleted the tag “${name}”`))
    .first()
    .waitFor();
  await page
    .getByRole('button', { name: /Undo|Take back/ })
    .first()
    .click();
  await page.goto(`/contacts?tag=${tag}`);
  await expect(people(page).locator('tbody tr')).toHaveCount(5);
  await page.goto(`/segments/${segment.id}`);
  await expect(page.getByText(name).first()).toBeVisible();
});

test('a member sees the tags with the own people, and changes none of them', async ({ page }) => {
  await signIn(page, 'member');
  await page.goto('/contacts/tags');
  await tags(page).getByRole('button', { name: 'workshops list', exact: true }).click();
  await expect(margin(page).getByRole('heading', { name: 'workshops list' })).toBeVisible();
  await expect(margin(page).getByRole('button', { name: /Merge|Delete|Edit/ })).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'New tag' })).toBeVisible();
});
