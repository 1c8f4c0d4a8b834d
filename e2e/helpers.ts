// What several journeys need: signing in, an accessible screen, the outside's mailboxes.
import { AxeBuilder } from '@axe-core/playwright';
import { expect, type APIRequestContext, type Locator, type Page } from '@playwright/test';
import { world } from './worlds.js';

export const outside = `http://localhost:${world.outsideWeb}`;
export const password = 'quillwater';

/** Signs in as the form does; which page is opened is said by whoever needs one. */
export async function signIn(
  page: Page,
  who: 'coordinator' | 'manager' | 'member' = 'coordinator',
): Promise<void> {
  const address = `${who}@quillwater.test`;
  expect((await call(page, 'POST', '/session', { address, password })).status()).toBe(204);
}

export const margin = (page: Page): Locator => page.getByRole('complementary', { name: 'Margin' });
export const people = (page: Page): Locator => page.getByRole('table', { name: 'People' });
export const figures = (page: Page): Locator => page.getByRole('group', { name: 'Figures' });
export const blocks = (page: Page): Locator => page.locator('[id^="block-"][role="group"]');

/** Chooses one of the words of a choice that is written out. */
export const say = (within: Page | Locator, choice: string, word: string): Promise<void> =>
  within.getByRole('radiogroup', { name: choice }).getByText(word, { exact: true }).click();

/** Chooses an option of a select by its words. */
export async function pick(within: Page | Locator, label: string, option: string): Promise<void> {
  const select = within.getByRole('combobox', { name: label, exact: true });
  await select.click();
  const page = 'page' in within ? within.page() : within;
  await page.getByRole('option', { name: option, exact: true }).click();
}

/** Adds a condition to the rule, or to one of its groups, found by typing. */
export async function ask(within: Page | Locator, what: string): Promise<void> {
  await within.getByRole('button', { name: '+ condition' }).first().click();
  const page = 'page' in within ? within.page() : within;
  await page.getByRole('textbox', { name: 'What is asked' }).fill(what);
  await page.keyboard.press('Enter');
}

export const expectAccessible = (page: Page): Promise<void> =>
  expectNothingFrom(axeOn(page).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']));

/** What colours alone can spoil, for a page whose structure has been looked at. */
export const expectReadable = (page: Page): Promise<void> =>
  expectNothingFrom(axeOn(page).withRules(['color-contrast', 'link-in-text-block']));

/** What is in order need not be listed: that takes a third of the time. */
const axeOn = (page: Page): AxeBuilder =>
  new AxeBuilder({ page }).options({ resultTypes: ['violations'] });

async function expectNothingFrom(axe: AxeBuilder): Promise<void> {
  // What it is for, looking into frames of other origins, would open another page each time.
  const { violations } = await axe.exclude('iframe').setLegacyMode(true).analyze();
  expect(
    violations.map(
      ({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`,
    ),
  ).toEqual([]);
}

export interface OutsideLetter {
  readonly id: number;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly html: string;
  readonly headers: readonly { readonly key: string; readonly value: string }[];
}

export async function lettersTo(request: APIRequestContext, to: string): Promise<OutsideLetter[]> {
  const response = await request.get(`${outside}/api/letters?to=${encodeURIComponent(to)}`);
  return ((await response.json()) as { letters: OutsideLetter[] }).letters;
}

/** Calls the API as the page's own scripts do; `path` is one of this office, or a whole address of another. */
export function call(page: Page, method: string, path: string, data?: unknown) {
  return page.request.fetch(path.startsWith('/') ? `/api${path}` : path, {
    method,
    headers: { 'x-requested-by': 'palabra' },
    ...(data === undefined ? {} : { data }),
  });
}

/** Somebody new, who agreed; returns their key. */
export async function newPerson(page: Page, values: Record<string, string>): Promise<number> {
  const reply = await call(page, 'POST', '/people', {
    values,
    permission: 'asked',
    source: 'at the fair',
    wording: 'Yes, the garden letter, please.',
  });
  return ((await reply.json()) as { id: number }).id;
}

interface Reply {
  readonly id: number;
  readonly version: number;
}

/** People by their address, who may be there already, a note to them with a button, and the campaign that sends it; done over the API, where the way there is not what is tried. */
export async function sendTo(
  page: Page,
  name: string,
  addresses: readonly string[],
  topicId: number | null = null,
): Promise<number> {
  const json = async <T>(response: Promise<{ text(): Promise<string> }>): Promise<T> => {
    const text = await (await response).text();
    return (text === '' ? undefined : JSON.parse(text)) as T;
  };
  const tag = await json<Reply>(call(page, 'POST', '/tags', { name, colour: 'lagoon' }));
  for (const address of addresses) {
    const person = await json<Reply & { readonly person?: number }>(
      call(page, 'POST', '/people', {
        values: { address, given_name: address.split('.')[0], family_name: name },
        permission: 'asked',
        source: 'at the fair',
      }),
    );
    await call(page, 'POST', '/tagging', {
      people: { ids: [person.id ?? person.person] },
      tag: tag.id,
      put: true,
    });
  }
  const letter = await json<Reply>(call(page, 'POST', '/letters', { name, template: 'note' }));
  const { content, version } = await json<{ content: { blocks: unknown[] }; version: number }>(
    call(page, 'GET', `/letters/${letter.id}`),
  );
  await call(page, 'PUT', `/letters/${letter.id}`, {
    version,
    name,
    content: {
      ...content,
      blocks: [
        {
          id: 'go',
          kind: 'button',
          label: ['See the garden'],
          href: `${outside}/garden/`,
        },
        ...content.blocks,
      ],
    },
  });
  const { id } = await json<Reply>(call(page, 'POST', '/campaigns', { name, letter: letter.id }));
  const sheet = await json<Reply & Record<string, unknown>>(call(page, 'GET', `/campaigns/${id}`));
  const saved = await json<Reply>(
    call(page, 'PUT', `/campaigns/${id}`, {
      version: sheet.version,
      name,
      who: { to: [{ kind: 'tag', id: tag.id }], notTo: [] },
      letterId: letter.id,
      topicId,
      senderName: 'Quillwater Garden',
      senderAddress: 'letters@quillwater.test',
      replyTo: '',
      sendAt: null,
    }),
  );
  const { tally } = await json<{ tally: unknown }>(call(page, 'GET', `/campaigns/${id}/tally`));
  expect(
    (
      await call(page, 'POST', `/campaigns/${id}/send`, { version: saved.version, seen: tally })
    ).status(),
  ).toBe(204);
  await expect
    .poll(
      async () => (await json<{ status: string }>(call(page, 'GET', `/campaigns/${id}`))).status,
      { timeout: 60_000 },
    )
    .toBe('sent');
  return id;
}
