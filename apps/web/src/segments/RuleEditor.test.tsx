/** @jest-environment ./apps/web/src/testing/environment.mjs */
// The rule as it is edited.
import { afterEach, expect, it } from '@jest/globals';
import type { Field } from '@palabra/core/contacts';
import { emptyRule, type Rule } from '@palabra/core/segments';
import { screen, within } from '@testing-library/react';
import { useState } from 'react';
import { clear, show } from '../testing/render';
import type { EditorContext } from './conditions';
import { RuleEditor } from './RuleEditor';

const context: EditorContext = {
  fields: [
    { key: 'town', label: 'town', type: 'text' },
    { key: 'visits', label: 'visits', type: 'number' },
  ] as unknown as readonly Field[],
  tags: [{ id: 1, name: 'guest', colour: 'moss', kind: 'office' }] as never,
  today: '2026-03-02',
  timeZone: 'UTC',
};
let now: Rule = emptyRule;

function Editing({
  rule,
  alone,
  disabled = false,
}: {
  readonly rule: Rule;
  readonly alone?: Readonly<Record<string, number>>;
  readonly disabled?: boolean;
}) {
  const [state, setState] = useState(rule);
  now = state;
  return (
    <RuleEditor
      rule={state}
      context={context}
      alone={alone}
      to="/contacts?of=segment.1.only-"
      disabled={disabled}
      lit={undefined}
      onHover={() => undefined}
      onChange={setState}
    />
  );
}
const towns = (...values: string[]): Rule => ({
  v: 1,
  root: {
    of: 'all',
    items: values.map((value) => ({ kind: 'field', field: 'town', op: 'is', value })),
  },
});
const answers = ({ path }: { path: string }): unknown =>
  path === '/vocabulary'
    ? { tags: context.tags, fields: [], pools: [], owners: [], topics: [] }
    : [];
afterEach(clear);

it('begins with nothing, and says what that means', () => {
  show(<Editing rule={emptyRule} />, { answers });
  expect(screen.getByText('No condition yet: everybody.')).toBeTruthy();
});

it('adds a condition, asks another field, and takes the condition out', async () => {
  const { user } = show(<Editing rule={emptyRule} />, { answers });
  await user.click(screen.getByRole('button', { name: '+ condition' }));
  expect(now.root.items).toEqual([{ kind: 'tag', op: 'has', tags: [] }]);
  await user.click(screen.getByRole('combobox', { name: 'What is asked' }));
  await user.click(screen.getByRole('option', { name: 'visits' }));
  await user.type(screen.getByRole('textbox', { name: 'Value' }), '12');
  expect(now.root.items).toMatchObject([{ kind: 'field', field: 'visits', value: 12 }]);
  await user.click(screen.getByRole('button', { name: 'Take this condition out' }));
  expect(now.root.items).toEqual([]);
});

it('calls nothing unfinished before it is counted', () => {
  show(<Editing rule={towns('Ash', '')} />, { answers });
  expect(screen.queryByText('unfinished')).toBeNull();
  clear();
  show(<Editing rule={towns('Ash', '')} alone={{ 0: 12 }} />, { answers });
  expect(screen.getAllByText('unfinished')).toHaveLength(1);
  expect(
    screen
      .getByRole('link', { name: '12 people for whom this holds by itself' })
      .getAttribute('href'),
  ).toBe('/contacts?of=segment.1.only-0');
});

it('moves the condition one is in by keys, and keeps the focus with it', async () => {
  const { user } = show(<Editing rule={towns('Ash', 'Birch')} />, { answers });
  const [first] = screen.getAllByRole('combobox', { name: 'What is asked' });
  first?.focus();
  await user.keyboard('{Alt>}{ArrowDown}{/Alt}');
  expect(now).toEqual(towns('Birch', 'Ash'));
  await user.keyboard('{Alt>}{ArrowDown}{/Alt}');
  expect(now).toEqual(towns('Birch', 'Ash'));
});

it('has groups with a word of their own', async () => {
  const { user } = show(<Editing rule={emptyRule} />, { answers });
  await user.click(screen.getByRole('button', { name: '+ group' }));
  const group = screen.getByRole('group', { name: 'any of' });
  expect(within(group).getByText('No condition yet: this group asks nothing.')).toBeTruthy();
  await user.click(within(group).getByRole('radio', { name: 'none of' }));
  await user.click(
    within(screen.getByRole('group', { name: 'none of' })).getByRole('button', {
      name: '+ condition',
    }),
  );
  expect(now.root.items).toMatchObject([{ of: 'none', items: [{ kind: 'tag' }] }]);
  await user.click(screen.getByRole('button', { name: 'Take this group out' }));
  expect(now.root.items).toEqual([]);
});

it('is read, and not changed, by who may not', () => {
  show(<Editing rule={towns('Ash')} disabled />, { answers });
  expect(screen.queryByRole('button', { name: '+ condition' })).toBeNull();
  expect(screen.queryByRole('button', { name: 'Take this condition out' })).toBeNull();
  for (const input of screen.getAllByRole('combobox'))
    expect(input).toHaveProperty('disabled', true);
});
