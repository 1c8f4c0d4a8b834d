/** @jest-environment ./apps/web/src/testing/environment.mjs */
// A segment's page: a draft beside the rule in force, what it would change, and the numbers in the margin.
import { afterEach, expect, it } from '@jest/globals';
import { configure, screen, waitFor, within } from '@testing-library/react';
import { clear, show } from '../testing/render';
import { SegmentPage } from './SegmentPage';

configure({ asyncUtilTimeout: 5000 });
afterEach(clear);

const has = (...tags: number[]) => ({ kind: 'tag', op: 'has', tags });
const rule = (...items: object[]) => ({ v: 1, root: { of: 'all', items } });
const inForce = rule(has(1), { kind: 'field', field: 'town', op: 'is', value: 'Ash' });

/** A server that keeps one segment, and remembers what it was told. */
function server(kept: object = {}) {
  const told: { path: string; body: unknown }[] = [];
  let version = 3;
  const answers = ({
    path,
    method,
    body,
  }: {
    path: string;
    method: string;
    body?: unknown;
  }): unknown => {
    if (method !== 'GET' && !/sift|strain/.test(path)) told.push({ path, body });
    if (path === '/vocabulary')
      return {
        tags: [{ id: 1, name: 'guest', colour: 'moss', kind: 'office' }],
        fields: [{ key: 'town', label: 'town', type: 'text' }],
        pools: [{ id: 1, name: 'house', kind: 'house' }],
        owners: [],
        topics: [],
      };
    if (path === '/segments/words') return { campaigns: [], segments: [] };
    if (path === '/segments/4' && method === 'GET')
      return {
        id: 4,
        version,
        kind: 'live',
        name: 'Guests of Ash',
        description: '',
        labels: [],
        sharing: 'all',
        sharedWith: [],
        poolIds: [1],
        rule: inForce,
        draft: null,
        inForceSince: '2026-03-01T10:00:00Z',
        inForceBy: 'Ines',
        mayChange: true,
        ...kept,
      };
    if (path === '/segments/4' || path === '/segments/4/use') return { version: ++version };
    if (path.startsWith('/segments/4/difference'))
      return {
        now: 12,
        comes: 30,
        goes: 0,
        campaigns: [{ id: 9, name: 'Waits', waits: true }],
        blocks: [],
      };
    if (path === '/segments/sift') return { count: 12, people: [] };
    if (path === '/segments/strain')
      return {
        count: 12,
        everybody: 100,
        alone: { 0: 40, 1: 20 },
        steps: [
          { path: '0', came: 100, left: 40 },
          { path: '1', came: 40, left: 12 },
        ],
        whatIf: [
          { path: '', change: 'any', count: 48 },
          { path: '1', change: 'without', count: 13 },
        ],
      };
    if (path.startsWith('/people/summary')) return { total: 12, colleagues: 0 };
    return [];
  };
  return { told, answers };
}
const page = { path: '/segments/4', route: '/segments/:id' };

it('accounts for everybody in the margin, and says what another word would give where it differs by much', async () => {
  show(<SegmentPage />, { answers: server().answers, ...page });
  await screen.findByLabelText('40 left here');
  const margin = screen.getByLabelText('Margin');
  expect(within(margin).getByLabelText('28 fall out here')).toBeTruthy();
  expect(within(margin).getByText('any of')).toBeTruthy();
  expect(within(margin).getByText('(+36)', { exact: false })).toBeTruthy();
  // One more or less is no difference to point at.
  expect(within(margin).queryByText(/^Without/)).toBeNull();
  expect(screen.queryByLabelText('Draft')).toBeNull();
});

it('keeps what is changed as a draft, says what it would change, and puts it in force', async () => {
  const { told, answers } = server();
  const { user } = show(<SegmentPage />, { answers, ...page });
  await screen.findByLabelText('40 left here');
  const outer = screen.getAllByLabelText('How the conditions count')[0] as HTMLElement;
  await user.click(within(outer).getByText('any of'));
  const draft = await screen.findByLabelText('Draft');
  expect(await within(draft).findByText('Waits')).toBeTruthy();
  expect(told.at(-1)).toMatchObject({
    path: '/segments/4',
    body: { draft: { pools: [1], rule: { root: { of: 'any' } } }, version: 3 },
  });
  expect(within(draft).getByLabelText('30 would come in')).toBeTruthy();
  await user.click(within(draft).getByText('Use this rule'));
  await waitFor(() =>
    expect(told.at(-1)).toMatchObject({ path: '/segments/4/use', body: { version: 4 } }),
  );
  await waitFor(() => expect(screen.queryByLabelText('Draft')).toBeNull());
  expect(screen.getByText('The rule is in force.')).toBeTruthy();
});

it('throws a draft away, and nothing is left of it', async () => {
  const { told, answers } = server({ draft: { pools: [1], rule: rule(has(1)) } });
  const { user } = show(<SegmentPage />, { answers, ...page });
  const draft = await screen.findByLabelText('Draft');
  await user.click(within(draft).getByText('Throw the draft away'));
  await waitFor(() => expect(told.at(-1)).toMatchObject({ body: { draft: null } }));
  expect(screen.queryByLabelText('Draft')).toBeNull();
});

it('shows the rule in force to who can’t use a draft', async () => {
  const draft = { pools: [1], rule: rule({ of: 'any', items: [has(1)] }) };
  const { answers } = server({ draft, mayChange: false });
  show(<SegmentPage />, { answers, role: 'member', ...page });
  expect(await screen.findByText(/This is the rule in force/)).toBeTruthy();
  expect(screen.queryByLabelText('Draft')).toBeNull();
});

it('says so where numbers of what is asked now are still awaited', async () => {
  const { answers } = server();
  let isSlow = false;
  const slowly = (asked: Parameters<typeof answers>[0]): unknown =>
    isSlow && asked.path === '/segments/sift' ? new Promise(() => undefined) : answers(asked);
  const { user } = show(<SegmentPage />, { answers: slowly, ...page });
  await screen.findByLabelText('40 left here');
  isSlow = true;
  const outer = screen.getAllByLabelText('How the conditions count')[0] as HTMLElement;
  await user.click(within(outer).getByText('any of'));
  expect(await screen.findByText(/still counting/)).toBeTruthy();
});
