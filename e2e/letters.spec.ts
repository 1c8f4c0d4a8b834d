// Writing a letter: blocks by buttons and keys, undo and redo, pictures, two tabs.
import { expect, test, type Page } from '@playwright/test';
import { blocks, expectAccessible, margin, say, signIn } from './helpers.js';

const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);
const saved = (page: Page) => page.getByRole('status').filter({ hasText: /^saved$/ });

async function newLetter(page: Page, name: string): Promise<void> {
  await page.goto('/letters');
  await page.getByRole('button', { name: 'New letter' }).click();
  await page.getByLabel('Name').fill(name);
  await page.getByRole('button', { name: 'Start from nothing' }).click();
  await expect(page.getByText('Leave these letters')).toBeVisible();
}

async function put(page: Page, kind: string): Promise<void> {
  await page.getByRole('button', { name: '+ put something here' }).last().click();
  await page.getByRole('menuitem', { name: kind }).click();
}

const kinds = (page: Page) =>
  page
    .locator('[id^="block-"][role="group"]')
    .evaluateAll((blocks) => blocks.map((block) => block.getAttribute('aria-label')));

test('blocks are put in, moved by buttons and keys, taken out, undone and done again', async ({
  page,
}) => {
  await signIn(page);
  await newLetter(page, 'Blocks');
  await put(page, 'heading');
  await page.getByRole('textbox', { name: 'Heading' }).fill('A title');
  await put(page, 'text');
  await page.getByRole('textbox', { name: 'Text' }).fill('Some words.');
  await put(page, 'divider');
  expect(await kinds(page)).toEqual(['Heading', 'Text', 'Divider', 'Footer']);

  await page.getByRole('textbox', { name: 'Text' }).click();
  await page.keyboard.press('Alt+ArrowUp');
  expect(await kinds(page)).toEqual(['Text', 'Heading', 'Divider', 'Footer']);
  await page.getByRole('button', { name: 'Move down' }).click();
  expect(await kinds(page)).toEqual(['Heading', 'Text', 'Divider', 'Footer']);
  await page.getByRole('button', { name: 'Take out' }).click();
  expect(await kinds(page)).toEqual(['Heading', 'Divider', 'Footer']);
  await page.keyboard.press('Control+z');
  expect(await kinds(page)).toEqual(['Heading', 'Text', 'Divider', 'Footer']);
  await expect(page.getByRole('textbox', { name: 'Text' })).toHaveText('Some words.');
  await page.getByRole('button', { name: 'Redo' }).click();
  expect(await kinds(page)).toEqual(['Heading', 'Divider', 'Footer']);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expectAccessible(page);

  await expect(saved(page)).toBeVisible();
  await page.reload();
  await expect(page.getByRole('textbox', { name: 'Text' })).toHaveText('Some words.');
  expect(await kinds(page)).toEqual(['Heading', 'Text', 'Divider', 'Footer']);
});

test('a text has marks, lists and links, and its readers get them', async ({ page }) => {
  await signIn(page);
  await newLetter(page, 'Marks');
  await put(page, 'text');
  await page.getByRole('textbox', { name: 'Text' }).click();
  await page.keyboard.type('See the pictures');
  await page.keyboard.press('Control+Shift+ArrowLeft');
  await page.getByRole('button', { name: 'Bold' }).click();
  await page.getByRole('button', { name: 'Link' }).click();
  await page.getByLabel('Where the link leads').fill('example.com/pictures');
  await page.keyboard.press('Enter');
  await expect(saved(page)).toBeVisible();
  await say(page, 'Show', 'phone');
  const link = page.frameLocator('iframe').getByRole('link', { name: 'pictures' });
  await expect(link).toHaveAttribute('href', 'https://example.com/pictures');
  await expect(
    page.frameLocator('iframe').locator('strong', { hasText: 'pictures' }),
  ).toBeVisible();
  await say(page, 'Show', 'text');
  await expect(page.locator('pre')).toContainText(
    'See the pictures [https://example.com/pictures]',
  );
});

test('a picture is taken in, and what is none is refused in place', async ({ page }) => {
  await signIn(page);
  await newLetter(page, 'Pictures');
  await put(page, 'picture');
  await page
    .getByLabel('Choose a picture')
    .setInputFiles({ name: 'x.png', mimeType: 'image/png', buffer: Buffer.from('not a picture') });
  await expect(page.getByText('This file is not a picture that can be read.')).toBeVisible();
  await page.getByLabel('Choose a picture').setInputFiles({
    name: 'huge.png',
    mimeType: 'image/png',
    buffer: Buffer.alloc(20 * 1024 * 1024),
  });
  await expect(page.getByText('20 MB; 10 MB are the most')).toBeVisible();
  await page
    .getByLabel('Choose a picture')
    .setInputFiles({ name: 'dot.png', mimeType: 'image/png', buffer: PNG });
  await expect(blocks(page).locator('img')).toBeVisible();
  await expect(margin(page).getByText('A picture has no alt text')).toBeVisible();
  await page.getByLabel('Alt text').fill('A green dot');
  await expect(margin(page).getByText('A picture has no alt text')).toBeHidden();
});

test('two tabs on one letter lose neither state', async ({ page, context }) => {
  await signIn(page);
  await newLetter(page, 'Two tabs');
  await put(page, 'heading');
  await page.getByRole('textbox', { name: 'Heading' }).fill('First');
  await expect(saved(page)).toBeVisible();
  const other = await context.newPage();
  await other.goto(page.url());
  await other.getByRole('textbox', { name: 'Heading' }).fill('From the other tab');
  await expect(saved(other)).toBeVisible();
  await page.getByRole('textbox', { name: 'Heading' }).fill('From this tab');
  await expect(page.getByText('This letter was changed elsewhere')).toBeVisible();
  await page.getByRole('button', { name: 'Take the other one' }).click();
  await expect(page.getByRole('textbox', { name: 'Heading' })).toHaveText('From the other tab');
  await page.getByRole('textbox', { name: 'Heading' }).fill('Mine in the end');
  await expect(saved(page)).toBeVisible();
  await other.getByRole('textbox', { name: 'Heading' }).fill('Too late');
  await other.getByRole('button', { name: 'Keep what I have here' }).click();
  await expect(saved(other)).toBeVisible();
  await page.reload();
  await expect(page.getByRole('textbox', { name: 'Heading' })).toHaveText('Too late');
});
