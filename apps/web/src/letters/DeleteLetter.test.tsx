/** @jest-environment ./apps/web/src/testing/environment.mjs */
// Deleting a letter: at once and with a way back, unless a campaign waits for it.
import { afterEach, expect, it } from '@jest/globals';
import { screen, waitFor } from '@testing-library/react';
import { clear, show } from '../testing/render';
import { DeleteLetter } from './DeleteLetter';

const letter = {
  id: 3,
  name: 'Spring',
  subject: [],
  version: 1,
  updatedAt: '2026-03-02T00:00:00Z',
  uses: [],
};
afterEach(clear);

it('is deleted, told, and brought back from there', async () => {
  const { user, asked } = show(<DeleteLetter letter={letter} />, { answers: () => null });
  await user.click(screen.getByRole('button', { name: 'Delete Spring' }));
  expect(await screen.findByText(/“Spring” was deleted/)).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  await waitFor(() =>
    expect(asked.map(({ method, path }) => `${method} ${path}`)).toEqual([
      'DELETE /letters/3',
      'POST /letters/3/restore',
    ]),
  );
});

it('is kept where a campaign waits for its time to send it, with a way to that campaign', async () => {
  const uses = [
    { id: 8, name: 'Sale', waits: true },
    { id: 7, name: 'Last year', waits: false },
  ];
  const { user, asked } = show(<DeleteLetter letter={{ ...letter, uses }} />);
  await user.click(screen.getByRole('button', { name: 'Delete Spring' }));
  const dialog = await screen.findByRole('dialog');
  expect(dialog.textContent).toContain('A campaign waits');
  expect(dialog.textContent).not.toContain('Last year');
  expect(screen.getByRole('link', { name: 'Sale' }).getAttribute('href')).toBe('/campaigns/8');
  await user.click(screen.getByRole('button', { name: 'Keep the letter' }));
  expect(asked).toEqual([]);
});
