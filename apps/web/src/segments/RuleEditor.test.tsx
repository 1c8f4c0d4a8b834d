/** @jest-environment ./apps/web/src/testing/environment.mjs */
// The rule as it is edited.
import { afterEach, expect, it } from '@jest/globals';
import type { Field } from '@palabra/core/contacts';
import { emptyRule, type Group, type Rule } from '@palabra/core/segments';
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
  topics: [],
  campaigns: [],
  segments: [],
  today: '2026-03-02',
  timeZone: 'UTC',
};
let now: Rule = emptyRule;
let opened: Group | undefined;

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
      onOpen={(root) => {
        opened = root;
      }}
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

/** Chooses in a search that was opened. */
async function ask(user: ReturnType<typeof show>['user'], name: string): Promise<void> {
  await user.type(screen.getByRole('textbox', { name: 'What is asked' }), `${name}{Enter}`);
}

it('begins with nobody, and has everybody as a choice in words', async () => {
  const { user } = show(<Editing rule={emptyRule} />, { answers });
  expect(screen.getByText('No condition yet: nobody.')).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'everybody in the pool' }));
  expect(now.root.items).toEqual([{ kind: 'everybody' }]);
});

it('adds a condition found by typing, asks another field, and takes the condition out', async () => {
  const { user } = show(<Editing rule={emptyRule} />, { answers });
  await user.click(screen.getByRole('button', { name: '+ condition' }));
  await ask(user, 'tag');
  expect(now.root.items).toEqual([{ kind: 'tag', op: 'has', tags: [] }]);
  await user.click(screen.getByRole('button', { name: 'What is asked: tag' }));
  await ask(user, 'visi');
  await user.type(screen.getByRole('textbox', { name: 'Value' }), '12');
  expect(now.root.items).toMatchObject([{ kind: 'field', field: 'visits', value: 12 }]);
  await user.click(screen.getByRole('button', { name: 'What to do with this condition' }));
  await user.click(await screen.findByRole('menuitem', { name: /Take it out/ }));
  expect(now.root.items).toEqual([]);
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  expect(now.root.items).toMatchObject([{ field: 'visits', value: 12 }]);
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  await user.click(screen.getByRole('button', { name: 'Redo' }));
  expect(now.root.items).toMatchObject([{ field: 'visits', value: 12 }]);
});

it('switches off, copies and negates by keys, without losing anything', async () => {
  const { user } = show(<Editing rule={towns('Ash')} />, { answers });
  screen.getByRole('button', { name: 'What is asked: town' }).focus();
  await user.keyboard('{Alt>}o{/Alt}');
  expect(now.root.items).toEqual([{ ...towns('Ash').root.items[0], off: true }]);
  expect(screen.getByText('not asked for now')).toBeTruthy();
  await user.keyboard('{Alt>}o{/Alt}');
  expect(now).toEqual(towns('Ash'));
  await user.keyboard('{Alt>}c{/Alt}');
  expect(now).toEqual(towns('Ash', 'Ash'));
  await user.keyboard('{Alt>}n{/Alt}');
  expect(now.root.items.map((item) => 'of' in item)).toContain(true);
});

it('takes a pasted list as texts to compare with', async () => {
  const { user } = show(<Editing rule={towns('Ash')} />, { answers });
  await user.click(screen.getByRole('combobox', { name: 'How the field is asked' }));
  await user.click(screen.getByRole('option', { name: 'is one of' }));
  await user.click(screen.getByRole('combobox', { name: 'Values' }));
  await user.paste('Ash\nBirch;Cedar, Ash');
  expect(now.root.items).toMatchObject([{ op: 'is one of', value: ['Ash', 'Birch', 'Cedar'] }]);
});

it('folds a group into a line and has no end of levels but twelve', async () => {
  const nested = (depth: number): Group =>
    depth === 0
      ? { of: 'all', items: [...towns('Ash').root.items] }
      : { of: 'any', items: [nested(depth - 1)] };
  const { user } = show(<Editing rule={{ v: 1, root: nested(11) }} />, { answers });
  expect(screen.getAllByRole('button', { name: '+ condition' })).toHaveLength(12);
  expect(screen.getAllByRole('button', { name: '+ group' })).toHaveLength(11);
  await user.click(screen.getAllByRole('button', { name: 'Fold this group' })[0] as HTMLElement);
  expect(screen.getByText('1 folded: whose town is Ash')).toBeTruthy();
  expect(screen.getAllByRole('button', { name: '+ condition' })).toHaveLength(1);
});

it('calls nothing unfinished before it is counted, and opens a condition by itself', async () => {
  show(<Editing rule={towns('Ash', '')} />, { answers });
  expect(screen.queryByText('unfinished')).toBeNull();
  clear();
  const { user } = show(<Editing rule={towns('Ash', '')} alone={{ 0: 12 }} />, { answers });
  expect(screen.getAllByText('unfinished')).toHaveLength(1);
  await user.click(screen.getByLabelText('12 people for whom this holds by itself'));
  expect(opened).toEqual(towns('Ash').root);
});

it('moves the condition one is in by keys, and keeps the focus with it', async () => {
  const { user } = show(<Editing rule={towns('Ash', 'Birch')} />, { answers });
  const [first] = screen.getAllByRole('button', { name: 'What is asked: town' });
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
  expect(within(group).getByText(/this group asks nothing/)).toBeTruthy();
  await user.click(within(group).getByRole('radio', { name: 'none of' }));
  await user.click(
    within(screen.getByRole('group', { name: 'none of' })).getByRole('button', {
      name: '+ condition',
    }),
  );
  await ask(user, 'tag');
  expect(now.root.items).toMatchObject([{ of: 'none', items: [{ kind: 'tag' }] }]);
  await user.click(screen.getByRole('button', { name: 'What to do with this group' }));
  await user.click(await screen.findByRole('menuitem', { name: /Take it out/ }));
  expect(now.root.items).toEqual([]);
});

it('is read, and not changed, by who may not', () => {
  show(<Editing rule={towns('Ash')} disabled />, { answers });
  expect(screen.queryByRole('button', { name: '+ condition' })).toBeNull();
  expect(screen.queryByRole('button', { name: 'What to do with this condition' })).toBeNull();
  for (const input of screen.getAllByRole('combobox'))
    expect(input).toHaveProperty('disabled', true);
});
