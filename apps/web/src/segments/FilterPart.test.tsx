/** @jest-environment ./apps/web/src/testing/environment.mjs */
// A filter that is being made: nothing typed is lost while what was typed before is being kept.
import { afterEach, expect, it } from '@jest/globals';
import { screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { clear, show } from '../testing/render';
import { FilterChip, FilterPanel, useFilterDraft } from './FilterPart';

const fields = [{ key: 'town', label: 'town', type: 'text' }];
const vocabulary = { tags: [], fields, pools: [], owners: [], topics: [] };
const begun = {
  v: 1,
  root: { of: 'all', items: [{ kind: 'field', field: 'town', op: 'is', value: 'A' }] },
};
const FIRST = '0'.repeat(24);
afterEach(clear);

function Filtered({ from }: { readonly from: string | undefined }) {
  const [key, setKey] = useState(from);
  const model = useFilterDraft(key, setKey);
  return (
    <>
      <output aria-label="key">{key ?? 'everybody'}</output>
      <FilterChip model={model} />
      <FilterPanel model={model} place={{}} pool={1} />
    </>
  );
}

/** Keys count up as rules are kept. */
function server() {
  const kept: string[] = [];
  return {
    kept,
    answers: ({
      path,
      method,
      body,
    }: {
      path: string;
      method: string;
      body?: unknown;
    }): unknown => {
      if (path === '/vocabulary') return vocabulary;
      if (path === '/filters' && method === 'POST') {
        const { rule } = body as { rule: object };
        kept.push(JSON.stringify(rule));
        return { key: String(kept.length).padStart(24, '0'), rule };
      }
      if (path === `/filters/${FIRST}`) return { key: FIRST, rule: begun };
      if (path === '/segments/strain')
        return { count: 12, everybody: 20, alone: { 0: 12 }, steps: [], whatIf: [] };
      return [];
    },
  };
}

it('follows what is typed, and keeps every letter while the last rule is on its way', async () => {
  const { kept, answers } = server();
  const { user } = show(<Filtered from={FIRST} />, { answers });
  const value = await screen.findByDisplayValue('A');
  // Some letters come while the last rule is being kept, some just when its key arrives.
  for (const [at, letter] of [...'shwick'].entries()) {
    await user.type(value, letter);
    await new Promise((resolve) => setTimeout(resolve, at % 2 === 0 ? 60 : 355));
  }
  expect(screen.getByDisplayValue('Ashwick')).toBeTruthy();
  await waitFor(() => expect(screen.getByLabelText('key').textContent).not.toBe(FIRST));
  await waitFor(() => expect(kept.at(-1)).toContain('"Ashwick"'));
  expect(screen.getByDisplayValue('Ashwick')).toBeTruthy();
  await waitFor(() =>
    expect(screen.getByLabelText('key').textContent).toBe(String(kept.length).padStart(24, '0')),
  );
});

it('narrows by nothing once nothing is asked, and says so', async () => {
  const { answers } = server();
  const { user } = show(<Filtered from={FIRST} />, { answers });
  await screen.findByDisplayValue('A');
  await user.click(screen.getByRole('button', { name: 'What to do with this condition' }));
  await user.click(await screen.findByRole('menuitem', { name: /Take it out/ }));
  await waitFor(() => expect(screen.getByText('everybody')).toBeTruthy());
  expect(screen.getByText('Nothing is asked yet: everybody is shown.')).toBeTruthy();
});
