/** @jest-environment ./apps/web/src/testing/environment.mjs */
// A tag in the margin: what it is, which other it may be, and what goes with it when it goes.
import { afterEach, expect, it } from '@jest/globals';
import type { TagLine, TagsReply } from '@palabra/contract/contacts';
import { idOf } from '@palabra/core/kernel';
import { screen, within } from '@testing-library/react';
import { clear, show } from '../../testing/render';
import { TagMargin } from './TagMargin';
import { usesInWords } from './words';

afterEach(clear);

const tag = (id: number, name: string, more: Partial<TagLine> = {}): TagLine => ({
  ...{ id, name, colour: 'moss', kind: 'office', purpose: '', version: 1, people: 12, uses: [] },
  ...more,
});
const twin = tag(2, 'workshop list', { people: 300 });
const answers = ({ path }: { readonly path: string }): unknown =>
  path.startsWith('/people/summary') ? { total: 5 } : { tags: [], fields: [], owners: [] };
const margin = (one: TagLine, may = true, alike: TagsReply['alike'] = []) =>
  show(
    <TagMargin tag={one} all={{ tags: [one, twin], alike }} may={may} onGone={() => undefined} />,
    { answers },
  );

it('says how many have both, and sums up to who has it alone', async () => {
  margin(tag(1, 'workshops list'), true, [{ one: idOf(1), other: idOf(2) }]);
  const sum = await screen.findByRole('table', { name: 'Who has “workshops list” alone' });
  expect(
    within(sum)
      .getAllByRole('row')
      .map((row) => row.textContent),
  ).toEqual(['tagged “workshops list”12', '– with both7', 'only “workshops list”5']);
  screen.getByRole('button', { name: 'Merge into “workshop list”' });
});

it('says before a deletion whom it is taken off, and what names it', async () => {
  const uses = [
    { kind: 'segment', id: 4, name: 'Neighbours', waits: false },
    { kind: 'campaign', id: 7, name: 'Spring', waits: true },
  ] as const;
  expect(usesInWords(uses)).toBe('1 segment, 1 campaign');
  const { user } = margin(tag(1, 'press', { uses }));
  expect(screen.getByRole('link', { name: 'Spring' }).closest('p')?.textContent).toContain(
    'waits to go out',
  );
  await user.click(screen.getByRole('button', { name: 'Delete it …' }));
  const dialog = await screen.findByRole('dialog');
  expect(dialog.textContent).toContain('It is taken off 12 people.');
  expect(
    within(dialog)
      .getAllByRole('listitem')
      .map((item) => item.textContent),
  ).toEqual(['Neighbours segment', 'Spring campaign']);
});

it.each<[string, TagLine, boolean]>([
  ['an automatic tag', tag(900_000_005, 'new', { kind: 'automatic', people: null }), true],
  ['a tag before a member', tag(1, 'press'), false],
])('%s is changed by nobody', (_, one, may) => {
  margin(one, may);
  screen.getByRole('heading', { name: one.name });
  expect(screen.queryByRole('button', { name: /Edit|Delete|Merge/ })).toBeNull();
  expect(screen.queryByRole('radiogroup')).toBeNull();
});
