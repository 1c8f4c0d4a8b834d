/** @jest-environment ./apps/web/src/testing/environment.mjs */
// The list of segments: what a member has of each, and what is colleagues'.
import { afterEach, expect, it } from '@jest/globals';
import { configure, screen, within } from '@testing-library/react';
import { clear, show } from '../testing/render';
import { SegmentsPage } from './SegmentsPage';

configure({ asyncUtilTimeout: 5000 });
afterEach(clear);

const segment = {
  id: 3,
  name: 'Guests',
  kind: 'live',
  description: '',
  labels: [],
  pools: ['house'],
  uses: [],
  askedBy: [],
  isMine: false,
  hasDraft: false,
  isIdle: false,
  mayChange: false,
  owner: 'Ines',
  sharing: 'all',
  lastUsedAt: null,
  updatedAt: '2026-03-01T10:00:00Z',
};
const answers = ({ path }: { path: string }): unknown =>
  path === '/segments'
    ? [segment]
    : path.startsWith('/people/summary')
      ? { total: 7, colleagues: 12 }
      : [];

it.each([
  ['member', ['yours', 'of colleagues'], ['7', '12']],
  ['coordinator', ['people'], ['7']],
] as const)('counts the people of a segment for a %s', async (role, headers, counts) => {
  show(<SegmentsPage />, { answers, role });
  expect(await screen.findByText('Guests')).toBeTruthy();
  const row = (await screen.findByText(counts[0])).closest('tr') as HTMLElement;
  for (const one of counts) expect(within(row).getByText(one)).toBeTruthy();
  for (const one of headers) expect(screen.getByRole('columnheader', { name: one })).toBeTruthy();
  expect(within(row).queryAllByText('12')).toHaveLength(counts.length - 1);
});
