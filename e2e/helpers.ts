// What several journeys need: signing in, an accessible screen, the outside's mailboxes.
import { AxeBuilder } from '@axe-core/playwright';
import { expect, type APIRequestContext, type Page } from '@playwright/test';

export const outside = 'http://localhost:4781';
export const password = 'quillwater';

export async function signIn(page: Page, who: 'coordinator' | 'manager' | 'member' = 'coordinator'): Promise<void> {
  await page.goto('/');
  await page.getByLabel('Email address').fill(`${who}@quillwater.test`);
  await page.getByRole('textbox', { name: 'Password' }).fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
}

export async function expectAccessible(page: Page): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']).exclude('iframe').analyze();
  expect(violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`)).toEqual([]);
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

/** Calls the API as the page's own scripts do. */
export function call(page: Page, method: string, path: string, data?: unknown) {
  return page.request.fetch(`/api${path}`, { method, headers: { 'x-requested-by': 'palabra' }, ...(data === undefined ? {} : { data }) });
}
