// By keys alone, by dragging, in the dark, narrow and wide.
import { gzipSync } from 'node:zlib';
import { expect, test, type Page, type Response } from '@playwright/test';
import { blocks, call, expectAccessible, expectReadable, people, signIn } from './helpers.js';

// None hangs on what another did: both workers take of them.
test.describe.configure({ mode: 'parallel' });
test.use({ contextOptions: { reducedMotion: 'no-preference' } });

const screens = [
  '/',
  '/contacts',
  '/contacts?q=ash&tag=1',
  '/contacts/3',
  '/segments',
  '/segments/3',
  '/letters',
  '/letters/28',
  '/letters/28?show=wide',
  '/campaigns',
  '/campaigns/28',
  '/campaigns/27',
  '/results',
  '/results/27',
  '/results/returned',
  '/intake',
  '/intake/1',
  '/contacts/tags?tag=9',
  '/activity',
  '/tasks?whose=all',
  '/settings',
  '/settings/rating',
];

const settled = async (page: Page): Promise<void> => {
  await expect(page.locator('h1')).not.toHaveText('…');
  await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
};

const half = Math.ceil(screens.length / 2);
for (const [which, some] of [
  ['one half of the screens', screens.slice(0, half)],
  ['the other half of the screens', screens.slice(half)],
] as const)
  test(`${which} is accessible, in the light and in the dark`, async ({ page }) => {
    test.setTimeout(240_000);
    // Letters are looked at elsewhere; the checker would be put into each of the small pictures.
    await page.route(/\/(letter|preview)\.html/, (route) =>
      route.fulfill({ contentType: 'text/html', body: '<!doctype html><title>a letter</title>' }),
    );
    const wrong: string[] = [];
    page.on('console', (message) => message.type() === 'error' && wrong.push(message.text()));
    page.on('pageerror', (error) => wrong.push(error.message));
    await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' });
    await signIn(page);
    for (const path of some) {
      await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' });
      await page.goto(path);
      await settled(page);
      await test.step(path, () => expectAccessible(page));
      const paper = await page.evaluate(() => getComputedStyle(document.body).backgroundColor);
      await page.emulateMedia({ colorScheme: 'dark', reducedMotion: 'reduce' });
      await expect(page.locator('body')).not.toHaveCSS('background-color', paper);
      await test.step(`${path} in the dark`, () => expectReadable(page));
    }
    // The preview's frame has no scripts of its own, which the browser mentions.
    expect(wrong.filter((text) => !/sandboxed/.test(text))).toEqual([]);
  });

test('no screen is wider than its window, on a tablet or wide', async ({ page }) => {
  await signIn(page);
  for (const path of screens) {
    await page.setViewportSize({ width: 820, height: 900 });
    await page.goto(path);
    for (const width of [820, 1920]) {
      await page.setViewportSize({ width, height: 900 });
      await settled(page);
      expect({
        path,
        width,
        overflows: await page.evaluate(
          () => document.documentElement.scrollWidth - window.innerWidth,
        ),
      }).toEqual({ path, width, overflows: 0 });
    }
  }
});

test('the palette finds people and things, and goes there', async ({ page }) => {
  await signIn(page);
  await page.goto('/');
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
  const find = async (text: string): Promise<void> => {
    await page.keyboard.press('Control+k');
    await expect(page.getByRole('textbox', { name: /Find people/ })).toBeFocused();
    await page.keyboard.type(text);
  };
  await find('plant sale guests');
  await expect(page.getByRole('button', { name: /Plant sale guests, no schools/ })).toHaveAttribute(
    'data-selected',
    'true',
  );
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/segments\/3$/);
  await find('abelard');
  await expect(
    page
      .getByRole('dialog')
      .getByRole('button', { name: /Abelard/ })
      .first(),
  ).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/contacts\/\d+/);
  await find('settings');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Settings' })).toBeVisible();
  await find('nothing is called this');
  await expect(page.getByText('Nothing is called that.')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.goto('/letters/28');
  await settled(page);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('move the block one is in');
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
});

test('blocks and conditions are moved by keys and by dragging', async ({ page }) => {
  await signIn(page);
  const { id } = (await (
    await call(page, 'POST', '/letters', { name: 'Moved about', template: 'news' })
  ).json()) as { id: number };
  await page.goto(`/letters/${id}`);
  await settled(page);
  const kinds = () => blocks(page).evaluateAll((blocks) => blocks.map((block) => block.id));
  const before = await kinds();
  await blocks(page).nth(0).click();
  await page.keyboard.press('Alt+ArrowDown');
  await expect.poll(kinds).toEqual([before[1], before[0], ...before.slice(2)]);
  await page.keyboard.press('Control+z');
  await expect.poll(kinds).toEqual(before);
  await blocks(page).nth(0).hover();
  const handle = await blocks(page).nth(0).locator('[title="drag to move"]').boundingBox();
  const goal = await blocks(page).nth(2).boundingBox();
  if (!handle || !goal) throw new Error('nothing to drag');
  await page.mouse.move(handle.x + 7, handle.y + 10);
  await page.mouse.down();
  await page.mouse.move(handle.x + 9, handle.y + 30, { steps: 4 });
  await page.mouse.move(goal.x + 60, goal.y + goal.height / 2 + 8, { steps: 12 });
  await page.mouse.up();
  await expect.poll(kinds).toEqual([before[1], before[2], before[0], ...before.slice(3)]);

  const segment = (await (
    await call(page, 'POST', '/segments', {
      name: 'Moved about',
      pools: [1],
      rule: {
        v: 1,
        root: {
          of: 'all',
          items: [
            { kind: 'field', field: 'town', op: 'is', value: 'Ashwick' },
            { kind: 'tag', op: 'has', tags: [1] },
            { of: 'any', items: [] },
          ],
        },
      },
    })
  ).json()) as { id: number };
  await page.goto(`/segments/${segment.id}`);
  await settled(page);
  const asked = () =>
    page
      .getByRole('button', { name: /^What is asked: / })
      .evaluateAll((asked) => asked.map(({ textContent }) => textContent));
  await expect.poll(asked).toEqual(['town', 'tag']);
  await page.locator('[data-path="0"] button').first().focus();
  await page.keyboard.press('Alt+ArrowDown');
  await expect.poll(asked).toEqual(['tag', 'town']);
  await expect(page.locator('[data-path="1"] button').first()).toBeFocused();
  // Nothing of the rule moves from here on.
  await expect(page.getByText('saved')).toBeVisible();
  const own = await page.locator('[data-path="0"] [title="drag to move"]').boundingBox();
  const group = await page.getByText(/^No condition yet: this group asks nothing/).boundingBox();
  if (!own || !group) throw new Error('nothing to drag');
  await page.mouse.move(own.x + 7, own.y + 10);
  await page.mouse.down();
  await page.mouse.move(own.x + 12, own.y + 25, { steps: 4 });
  await page.mouse.move(group.x + 40, group.y + group.height / 2, { steps: 12 });
  await page.mouse.up();
  await expect(
    page.getByRole('group', { name: 'any of' }).getByRole('button', { name: /^What is asked: / }),
  ).toHaveCount(1);
  await expect.poll(asked).toEqual(['town', 'tag']);
  await expect(page.getByText('saved')).toBeVisible();
});

test('a round by keys alone: from the desk to a tagged person', async ({ page }) => {
  await signIn(page);
  await page.goto('/');
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
  await page.keyboard.press('Control+k');
  await expect(page.getByRole('textbox', { name: /Find people/ })).toBeFocused();
  await page.keyboard.type('contacts');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Everybody' })).toBeVisible();
  await page.keyboard.press('/');
  await expect(page.getByLabel('Search by name, address, street, phone or tag')).toBeFocused();
  await page.keyboard.type('ashcombe');
  await expect(page).toHaveURL(/q=ashcombe/);
  await expect(people(page).locator('tbody a[href^="/contacts/"]').first()).toContainText(
    'Ashcombe',
  );
  await page.getByLabel('Search by name, address, street, phone or tag').press('Tab');
  for (let presses = 0; presses < 12; presses++) {
    if (await page.evaluate(() => document.activeElement?.matches('tbody a[href^="/contacts/"]')))
      break;
    await page.keyboard.press('Tab');
  }
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/contacts\/\d+/);
  const first = page.url();
  await expect(page.getByText(/^1 of \d+$/)).toBeVisible();
  await page.keyboard.press('Alt+ArrowDown');
  await expect(page).not.toHaveURL(first);
  await expect(page.getByText(/^2 of \d+$/)).toBeVisible();
  await page.keyboard.press('Alt+ArrowUp');
  await expect(page).toHaveURL(first);
  await expect(page.getByText(/^1 of \d+$/)).toBeVisible();
  await page.keyboard.press('t');
  await expect(page.getByRole('textbox', { name: 'Find or make a tag' })).toBeFocused();
  await page.keyboard.type('by keys');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/^Tagged “by keys”: /)).toBeVisible();
  await expect(page.getByRole('button', { name: '+ tag' })).toBeFocused();
  await page.getByRole('button', { name: 'Undo' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText(/^Took back: tagged “by keys”: /)).toBeVisible();
});

test('the desk comes with no more than it needs', async ({ page }) => {
  await signIn(page);
  const scripts = new Map<string, Response>();
  page.on('response', (response) => {
    // The palette is put there once there is time.
    if (response.url().endsWith('.js') && !response.url().includes('/Palette-'))
      scripts.set(response.url(), response);
  });
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'Came back' })).toBeVisible();
  await settled(page);
  const names = [...scripts.keys()].join(' ');
  expect(names).not.toMatch(/LetterPage|ResponseChart|Day-|Table-|form-/);
  const sizes = await Promise.all(
    [...scripts.values()].map(async (script) => gzipSync(await script.body()).length),
  );
  expect(sizes.reduce((sum, one) => sum + one, 0)).toBeLessThan(266_000);
});
