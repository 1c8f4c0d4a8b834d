/** @jest-environment ./apps/web/src/testing/environment.mjs */
// Who sees a segment, and what of it they would miss.
import { afterEach, expect, it } from '@jest/globals';
import { act, configure, screen, waitFor } from '@testing-library/react';
import type { SegmentSharing } from '@palabra/core/segments';
import { clear, show } from '../testing/render';
import { SharingDialog } from './SharingDialog';
import type { SegmentModel } from './useSegment';

configure({ asyncUtilTimeout: 5000 });
afterEach(clear);

/** Shows the dialog, until it knows the other segments. */
async function shared(sharing: SegmentSharing, named: SegmentSharing): Promise<void> {
  let isAsked = false;
  const rule = { v: 1, root: { of: 'all', items: [{ kind: 'segment', op: 'is in', segment: 7 }] } };
  const value = { sharing, sharedWith: [], rule };
  show(
    <SharingDialog
      model={{ draft: { value, change: () => undefined } } as unknown as SegmentModel}
      onClose={() => undefined}
    />,
    {
      answers: ({ path }) => {
        if (path === '/vocabulary')
          return { tags: [], fields: [], pools: [], owners: [], topics: [] };
        if (path !== '/segments') return [];
        isAsked = true;
        return [
          { id: 7, name: 'Keen guests', sharing: named },
          { id: 8, name: 'Others', sharing: 'private' },
        ];
      },
    },
  );
  await waitFor(() => expect(isAsked).toBe(true));
  await act(() => new Promise((resolve) => setTimeout(resolve, 50)));
}

it.each([
  ['all', 'private'],
  ['some', 'private'],
  ['all', 'some'],
] as const)('says at %s that one which it asks for is for %s', async (sharing, named) => {
  await shared(sharing, named);
  const said = await screen.findByText(/which not everybody sees/);
  expect(said.textContent).toContain('“Keen guests”,');
  expect(said.textContent).not.toContain('Others');
});

it.each([
  ['private', 'private'],
  ['all', 'all'],
] as const)('says nothing at %s where the other is for %s', async (sharing, named) => {
  await shared(sharing, named);
  await screen.findByText(/gathers everybody/);
  expect(screen.queryByText(/which not everybody/)).toBeNull();
});
