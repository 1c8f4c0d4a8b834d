/** @jest-environment ./apps/web/src/testing/environment.mjs */
// Erasing somebody: what one is told before, and afterwards.
import { afterEach, expect, it } from '@jest/globals';
import { screen, waitFor } from '@testing-library/react';
import { Answer, clear, show, type Asked } from '../../testing/render';
import { FieldConflicts } from '../fields/FieldConflicts';
import { Erased } from './Erased';
import { TheirData } from './TheirData';

afterEach(clear);

const look = {
  people: [
    { id: 3, name: 'Ada Wren', pool: 'house' },
    { id: 9, name: 'A. Wren', pool: 'partners' },
  ],
  addresses: ['ada@example.com'],
  places: [
    { place: 'person', count: 12 },
    { place: 'notes', count: 2 },
    { place: 'tasks', count: 0 },
  ],
  backups: ['/copies/monday.tgz'],
  isServer: false,
};
const refused = new Answer(409, { detail: 'A letter is in hand.' });

it('says what goes, waits for a word, and tells why it can’t be just now', async () => {
  const answers = ({ method }: Asked) => (method === 'POST' ? refused : look);
  const { user } = show(<TheirData id={3} name="Ada Wren" />, { answers });
  await user.click(screen.getByRole('button', { name: 'Erase them' }));
  const dialog = await screen.findByRole('dialog', { name: 'Erase Ada Wren' });
  await waitFor(() => expect(dialog.textContent).toContain('A. Wren, in the pool “partners”'));
  expect(dialog.textContent).toContain('Notes · 2');
  expect(dialog.textContent).not.toContain('Tasks');
  expect(dialog.textContent).toContain('/copies/monday.tgz');
  const erase = screen.getByRole('button', { name: 'Erase for good' });
  expect(erase).toHaveProperty('disabled', true);
  await user.click(screen.getByRole('checkbox', { name: 'Ada Wren asked for this' }));
  await user.click(erase);
  expect(await screen.findByText('A letter is in hand.')).toBeTruthy();
});

it('offers nothing of it to a member', () => {
  show(<TheirData id={3} name="Ada Wren" />, { role: 'member' });
  expect(screen.queryByText('If they ask')).toBeNull();
});

it.each([
  [{ isAsked: true, by: 'Ines' }, 'erased at their own request on 2 Mar, by Ines'],
  [{ isAsked: false, by: null }, 'after thirty days in the bin'],
])('tells of somebody who is not there: %j', async (more, words) => {
  const answers = () => ({ at: '2026-03-02T10:00:00Z', isDone: true, backups: [], ...more });
  show(<Erased id={3} />, { answers });
  expect(await screen.findByText((text) => text.includes(words))).toBeTruthy();
});

it('lets one choose for each field whose value goes on', async () => {
  const settled: unknown[] = [];
  const { user } = show(
    <FieldConflicts
      kept={{ town: 'Ash', phone: '', stage: 'guest' }}
      mine={{ town: 'Birch', phone: '1', stage: 'guest' }}
      theirs={{ town: 'Cedar', phone: '2', stage: 'member' }}
      labelOf={(key) => key}
      onSettle={(texts) => settled.push(texts)}
    />,
  );
  expect(screen.queryByText('stage')).toBeNull();
  await user.click(screen.getByText('theirs: 2'));
  await user.click(screen.getByRole('button', { name: 'Go on with these' }));
  expect(settled).toEqual([{ town: 'Birch', phone: '2', stage: 'member' }]);
});
