/** @jest-environment ./apps/web/src/testing/environment.mjs */
// A file before it comes in: what is said of it is kept, what is wrong with a row is mended where it stands.
import { afterEach, describe, expect, it } from '@jest/globals';
import type { ImportReply, LookRow } from '@palabra/contract/intake';
import { builtInFields } from '@palabra/core/contacts';
import { configure, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { Answer, clear, show, type Asked } from '../testing/render';
import { ImportPage } from './ImportPage';
import { ImportResult } from './ImportResult';
import { IntakePage } from './IntakePage';

// A page of many choices takes its time to be drawn on a busy machine.
configure({ asyncUtilTimeout: 5000 });
afterEach(clear);

const owners = [
  { key: '1', label: 'Ines' },
  { key: '2', label: 'Jonah Petrov' },
];
const vocabulary = {
  fields: [...builtInFields({ owners }), { key: 'own_1', label: 'member until', type: 'date' }],
  tags: [{ id: 7, name: 'family', colour: 'sky', kind: 'office', purpose: '' }],
  topics: [],
  pools: [{ id: 1, name: 'house', kind: 'house' }],
  owners,
};

const outcomes = { new: 2, changed: 1, unchanged: 3, refused: 1, elsewhere: 0, again: 1, out: 0 };
const file = (more: Partial<ImportReply> = {}): ImportReply =>
  ({
    id: 5,
    kind: 'text',
    state: 'uploaded',
    fileName: 'fair.csv',
    encoding: 'utf-8',
    guesses: [],
    separator: ',',
    headerAt: 0,
    beginning: [['Mail', 'Town', 'Until', 'What']],
    headers: ['Mail', 'Town', 'Until', 'What'],
    sample: [
      ['a@example.com', 'Tarn', '04/05/2027', '3'],
      ['b@example.com', 'Ashby', '', '12'],
    ],
    rows: 8,
    sheets: [],
    sheetAt: 0,
    hasFile: true,
    plan: {
      mapping: [
        { to: 'field', field: 'address' },
        { to: 'field', field: 'town' },
        { to: 'field', field: 'own_1' },
        { to: 'nothing' },
      ],
      matching: 'address',
      poolId: 1,
      ownerId: 1,
      permission: 'unknown',
      source: '',
      wording: '',
      tagIds: [],
      fixed: {},
      tagsMeant: [],
      owners: [],
      fieldsMade: [],
    },
    planVersion: 4,
    look: {
      version: 4,
      cursor: 8,
      isCurrent: true,
      counts: {
        outcomes,
        look: 2,
        mended: 0,
        doNotMail: 1,
        fields: [{ field: 'town', changed: 1, filled: 0 }],
        newTags: [{ name: 'familys', rows: 2, alike: 7 }],
        unknownOwners: [{ name: 'Jonah', rows: 1 }],
      },
    },
    cursor: 0,
    newCount: 0,
    changedCount: 0,
    unchangedCount: 0,
    refusedCount: 0,
    elsewhereCount: 0,
    againCount: 0,
    outCount: 0,
    doubtedCount: 0,
    knownSince: null,
    createdAt: '2026-11-20T10:00:00.000Z',
    startedAt: null,
    finishedAt: null,
    by: 'Ines',
    takenBack: null,
    ...more,
  }) as ImportReply;

const row = (more: Partial<LookRow>): LookRow => ({
  row: 1,
  line: 2,
  outcome: 'refused',
  contact: null,
  sameAs: null,
  isLook: true,
  isMended: false,
  cells: ['a@@example.com', 'Tarn', '', ''],
  problems: [],
  was: {},
  ...more,
});

const looking = (
  rows: readonly LookRow[] = [],
  found: ImportReply = file(),
  answer: (asked: Asked) => unknown = () => undefined,
) => ({
  route: '/intake/:id',
  answers: (asked: Asked): unknown => {
    const said = answer(asked);
    if (said !== undefined) return said;
    if (asked.path === '/vocabulary') return vocabulary;
    if (asked.path === '/imports/5') return found;
    if (asked.path.startsWith('/imports/5/rows')) return { version: 4, rows };
    if (asked.method === 'PUT') return { ...found, planVersion: found.planVersion + 1 };
    return asked.method === 'GET' ? undefined : null;
  },
});
/** A choice; its list has the same name. */
const choice = async (label: string): Promise<HTMLElement> => {
  const found = (await screen.findAllByLabelText(label)).find(({ tagName }) => tagName === 'INPUT');
  if (!found) throw new Error(`there is no choice ${label}`);
  return found;
};
const sent = (asked: readonly Asked[], method: string): Asked | undefined =>
  asked.findLast((one) => one.method === method);

describe('columns and terms', () => {
  it('say what will happen, each number opening, and offer each field once', async () => {
    const { user } = show(<ImportPage />, { path: '/intake/5', ...looking() });
    const sum = await screen.findByLabelText('What will happen');
    expect(within(sum).getByRole('row', { name: /people touched/ }).textContent).toContain('3');
    expect(
      within(sum)
        .getByRole('row', { name: /^change/ })
        .querySelector('a')
        ?.getAttribute('href'),
    ).toBe('/intake/5?part=changed');
    expect(screen.getByRole('button', { name: 'Bring in 3 people' })).toBeTruthy();
    await user.click(await choice('What the column What fills'));
    const options = await screen.findAllByRole('option');
    const option = (name: string) => options.find(({ textContent }) => textContent === name);
    expect(option('town')?.getAttribute('data-combobox-disabled')).toBe('true');
    expect(option('region')?.getAttribute('data-combobox-disabled')).not.toBe('true');
    expect(option('owner')).toBeTruthy();
  });

  it('keep each choice on the server, and ask which of day and month comes first', async () => {
    const { user, asked } = show(<ImportPage />, { path: '/intake/5', ...looking() });
    await user.click(await choice('What comes first in the days of Until'));
    await user.click((await screen.findAllByText('day first')).at(-1) as Element);
    await waitFor(() =>
      expect(sent(asked, 'PUT')?.body).toMatchObject({
        version: 4,
        mapping: expect.arrayContaining([{ to: 'field', field: 'own_1', days: 'day first' }]),
      }),
    );
  });

  it('lose neither state when another tab said something else', async () => {
    const theirs = { ...file().plan, source: 'theirs' };
    const conflict = new Answer(409, {
      status: 409,
      detail: 'changed',
      current: { version: 9, plan: theirs },
    });
    const { user } = show(<ImportPage />, {
      path: '/intake/5',
      ...looking([], file(), ({ method }) => (method === 'PUT' ? conflict : undefined)),
    });
    await user.type(await screen.findByLabelText('Where and when they agreed'), 'mine');
    await user.click(await screen.findByText('Take the other one'));
    expect(screen.getByLabelText<HTMLInputElement>('Where and when they agreed').value).toBe(
      'theirs',
    );
  });

  it('ask once who is meant, and what a new tag stands for', async () => {
    const { user, asked } = show(<ImportPage />, { path: '/intake/5', ...looking() });
    await user.click(await screen.findByText('take “family”'));
    await user.click(await choice('Who is Jonah'));
    await user.click((await screen.findAllByText('Jonah Petrov')).at(-1) as Element);
    await waitFor(() =>
      expect(sent(asked, 'PUT')?.body).toMatchObject({
        tagsMeant: [{ name: 'familys', tag: 7 }],
        owners: [{ name: 'Jonah', userId: 2 }],
      }),
    );
  });

  it('give a member nobody else’s people, and begin only with the column by which people are known', async () => {
    const without = file({
      plan: {
        ...file().plan,
        mapping: [{ to: 'nothing' }, { to: 'nothing' }, { to: 'nothing' }, { to: 'nothing' }],
      },
    });
    const { user } = show(<ImportPage />, {
      path: '/intake/5',
      role: 'member',
      ...looking([], without),
    });
    expect(await screen.findByText(/Say which column holds the email address/)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Bring/ }).disabled).toBe(true);
    expect(screen.queryByLabelText('Who looks after new people')).toBeNull();
    await user.click(await choice('What the column What fills'));
    await screen.findAllByRole('option');
    expect(screen.queryByRole('option', { name: 'owner' })).toBeNull();
  });
});

describe('rows', () => {
  it('are mended by what is offered, said of a column, left out, and put back', async () => {
    const rows = [
      row({
        problems: [
          {
            kind: 'refused',
            at: 0,
            words: 'there are two @ in a row',
            offers: [{ words: 'a@example.com?', cells: { 0: 'a@example.com' } }],
          },
        ],
      }),
      row({
        row: 2,
        line: 3,
        outcome: 'new',
        problems: [
          {
            kind: 'doubt',
            at: 2,
            words: '4 May or 5 April',
            offers: [{ words: 'day first', column: 2, days: 'day first' }],
          },
        ],
      }),
      row({ row: 3, line: 4, outcome: 'new', isLook: false, isMended: true }),
    ];
    const { user, asked } = show(<ImportPage />, {
      path: '/intake/5?part=look',
      ...looking(rows),
    });
    const posts = (): unknown[] =>
      asked.filter(({ method }) => method === 'POST').map(({ path, body }) => [path, body]);
    await user.click(await screen.findByText('a@example.com?'));
    await user.click(screen.getByLabelText('Take row 3 as it is'));
    await user.click(screen.getByLabelText('Leave row 2 out'));
    await user.click(screen.getByLabelText('Put row 4 back as in the file'));
    await waitFor(() =>
      expect(posts()).toEqual([
        ['/imports/5/rows/1', { cells: { 0: 'a@example.com' } }],
        ['/imports/5/rows/2', { isSeen: true }],
        ['/imports/5/rows/1', { isOut: true }],
        ['/imports/5/rows/3', { back: true }],
      ]),
    );
    await user.click(screen.getByText('day first'));
    await waitFor(() =>
      expect(sent(asked, 'PUT')?.body).toMatchObject({
        mapping: expect.arrayContaining([{ to: 'field', field: 'own_1', days: 'day first' }]),
      }),
    );
  });

  it('are typed into where they stand; what was cut is not', async () => {
    const long = `${'x'.repeat(200)}…`;
    const { user, asked } = show(<ImportPage />, {
      path: '/intake/5?part=new',
      ...looking([row({ outcome: 'new', isLook: false, cells: ['a@example.com', long, '', ''] })]),
    });
    const cell = await screen.findByLabelText(/^Change Mail of row 2/);
    expect(screen.queryByLabelText(/^Change Town/)).toBeNull();
    await user.dblClick(cell);
    await user.keyboard('b@example.com{Enter}');
    await waitFor(() =>
      expect(sent(asked, 'POST')?.body).toEqual({ cells: { 0: 'b@example.com' } }),
    );
  });

  it('say what somebody has now, and of whom they are once more', async () => {
    show(<ImportPage />, {
      path: '/intake/5?part=changed',
      ...looking([
        row({
          outcome: 'changed',
          isLook: false,
          was: { 1: 'Ashby' },
          cells: ['a@example.com', 'Tarn', '', ''],
        }),
        row({ row: 2, line: 3, outcome: 'again', isLook: false, sameAs: 1 }),
      ]),
    });
    expect((await screen.findByText('Ashby')).tagName).toBe('S');
    expect(screen.getByText('the same person as row 1')).toBeTruthy();
  });
});

describe('the way in', () => {
  const answers = ({ method }: Asked): unknown => (method === 'POST' ? { id: 9 } : []);
  const paste = (text: string, target: Element = document.body): void => {
    fireEvent.paste(target, { clipboardData: { files: [], getData: () => text } });
  };
  it('takes rows that are pasted onto the page, and no single word', async () => {
    const { asked, path } = show(<IntakePage />, { answers });
    await screen.findByText('Choose a file, or drop one here');
    paste('word');
    expect(sent(asked, 'POST')).toBeUndefined();
    paste('a@example.com\tAda\n');
    await waitFor(() => expect(path()).toBe('/intake/9'));
    expect(sent(asked, 'POST')?.path).toMatch(/^\/imports\?name=pasted/);
  });
  it('leaves what is pasted into a field there', async () => {
    const { user, asked } = show(<IntakePage />, { answers });
    await user.click(await screen.findByText('paste rows'));
    paste('a@example.com\tAda\n', await screen.findByLabelText(/^Rows, with/));
    expect(sent(asked, 'POST')).toBeUndefined();
  });
});

it('tells afterwards how it was read, and offers what only a taken-back file brought', async () => {
  const { user, asked } = show(
    <ImportResult
      found={file({
        state: 'done',
        newCount: 2,
        outCount: 1,
        takenBack: { changeSet: 3, count: 2, leftAlone: 0, isDone: true },
      })}
    />,
    {
      answers: ({ method, path }) =>
        method === 'DELETE'
          ? null
          : path === '/vocabulary'
            ? vocabulary
            : path === '/imports/5/leftovers'
              ? { tags: [{ id: 7, name: 'family' }], fields: [{ id: 1, label: 'member until' }] }
              : { go: 0, stay: 0, changed: 0, changedSince: 0 },
    },
  );
  const read = await screen.findByLabelText('What the columns filled');
  await waitFor(() => expect(read.textContent).toContain('member until'));
  expect(screen.getByRole('row', { name: /left out 1/ })).toBeTruthy();
  expect(await screen.findByText(/the field “member until” came with this file/)).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Take them out' }));
  await waitFor(() => expect(sent(asked, 'DELETE')?.path).toBe('/imports/5/leftovers'));
});
