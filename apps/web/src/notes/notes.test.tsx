/** @jest-environment ./apps/web/src/testing/environment.mjs */
// Notes and tasks on the screen: who may change them, what is due, what is lost when it can't be kept.
import { afterEach, expect, it } from '@jest/globals';
import type { NoteReply, TaskReply } from '@palabra/contract/notes';
import { screen } from '@testing-library/react';
import { Answer, clear, show } from '../testing/render';
import { NoteEntry } from './NoteEntry';
import { NoteText } from './NoteText';
import { TaskLine } from './TaskLine';

afterEach(clear);

const task = (more: Partial<TaskReply> = {}): TaskReply => ({
  id: 7,
  version: 1,
  person: { id: 3, givenName: 'Maud', familyName: 'Ash', address: null, phone: '01632 960123' },
  kind: 'call',
  text: 'the grafting day',
  due: null,
  assignee: { id: 1, name: 'Ines', isClosed: false },
  madeBy: 'Ines',
  remind: false,
  doneAt: null,
  doneBy: null,
  mayChange: true,
  ...more,
});
const note = (more: Partial<NoteReply> = {}): NoteReply => ({
  id: 4,
  version: 2,
  kind: 'call',
  text: {
    type: 'doc',
    content: [{ type: 'paragraph', content: [{ type: 'text', text: 'Rang' }] }],
  },
  at: '2026-03-02T10:00:00Z',
  by: { id: 2, name: 'Kasimir' },
  pinned: false,
  told: [{ id: 1, name: 'Ines' }],
  mayChange: true,
  ...more,
});
const vocabulary = { tags: [], fields: [], topics: [], pools: [], owners: [] };

it.each<[string, Partial<TaskReply>, string]>([
  ['overdue', { due: '2020-01-02' }, 'overdue since 2 Jan 2020'],
  ['later', { due: '2999-01-02' }, 'by 2 Jan 2999'],
  [
    'somebody else’s',
    { assignee: { id: 2, name: 'Vera', isClosed: true } },
    'for Vera, who has left',
  ],
])('says of a task that it is %s', (_, more, words) => {
  show(<TaskLine task={task(more)} named />);
  expect(document.body.textContent).toContain(words);
  expect(screen.getByRole('link', { name: '01632 960123' }).getAttribute('href')).toBe(
    'tel:01632960123',
  );
});

it('ticks a task off, and a refusal says why', async () => {
  const { user, asked } = show(<TaskLine task={task()} named />, {
    answers: () => new Answer(422, { type: 'x', detail: 'Somebody else does this.' }),
  });
  await user.click(screen.getByRole('checkbox', { name: 'Done: call Maud Ash' }));
  await screen.findByText('Somebody else does this.');
  expect(asked).toMatchObject([{ method: 'POST', path: '/tasks/7/done', body: { done: true } }]);
});

it.each([
  ['a manager', true, 'manager'],
  ['who has nothing to do with it', false, 'member'],
] as const)('lets %s change nothing', (_, mayChange, role) => {
  show(
    <>
      <TaskLine task={task({ mayChange })} changes />
      <NoteEntry note={note({ mayChange })} />
    </>,
    { role },
  );
  expect(screen.getByRole<HTMLInputElement>('checkbox').disabled).toBe(true);
  expect(screen.queryByRole('button')).toBeNull();
  expect(document.body.textContent).toContain('Called, Kasimir; told Ines');
});

it('pins a note with all it was', async () => {
  const { user, asked } = show(<NoteEntry note={note()} />, { answers: () => note() });
  await user.click(screen.getByRole('button', { name: 'Pin' }));
  const { text, kind } = note();
  expect(asked[0]).toMatchObject({
    method: 'PUT',
    path: '/notes/4',
    body: { version: 2, kind, text, pinned: true, tell: [1] },
  });
});

it('keeps what was typed when somebody was faster', async () => {
  const { user } = show(<NoteEntry note={note()} />, {
    answers: ({ method }) =>
      method === 'PUT' ? new Answer(409, { type: 'x', detail: 'Changed elsewhere.' }) : vocabulary,
  });
  await user.click(screen.getByRole('button', { name: 'Edit' }));
  await user.click(await screen.findByRole('button', { name: 'Keep it' }));
  await screen.findByText('Changed elsewhere.');
  screen.getByRole('group', { name: 'Change the note' });
});

it('shows marks, lists and links of a note', () => {
  show(
    <NoteText
      text={{
        type: 'doc',
        content: [
          {
            type: 'paragraph',
            content: [
              { type: 'text', text: 'Likes ', marks: [{ type: 'bold' }] },
              {
                type: 'text',
                text: 'alpines',
                marks: [{ type: 'link', attrs: { href: 'https://example.org/' } }],
              },
              { type: 'hardBreak' },
            ],
          },
          {
            type: 'orderedList',
            content: [
              {
                type: 'listItem',
                content: [{ type: 'paragraph', content: [{ type: 'text', text: 'one' }] }],
              },
            ],
          },
        ],
      }}
    />,
  );
  expect(screen.getByRole('link', { name: 'alpines' }).getAttribute('rel')).toContain('noopener');
  expect(screen.getByRole('listitem').textContent).toBe('one');
  expect(document.querySelector('b')?.textContent).toBe('Likes ');
});
