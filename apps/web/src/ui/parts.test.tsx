/** @jest-environment ./apps/web/src/testing/environment.mjs */
// Small parts: text edited in place, days as they are typed, what is told.
import { afterEach, expect, it, jest } from '@jest/globals';
import { act, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { clear, show } from '../testing/render';
import { command, type Command } from './command';
import { parseDay } from './Day';
import { InPlace } from './InPlace';

afterEach(clear);

it.each([
  ['2026-03-02', '2026-03-02'],
  ['2.3.2026', '2026-03-02'],
  ['2/3/26', '2026-03-02'],
  [' 2 Mar 2026 ', '2026-03-02'],
  ['2 March 2026', '2026-03-02'],
  ['31.2.2026', null],
  ['soon', null],
  ['', null],
])('reads a day as it is typed: %j', (text, day) => expect(parseDay(text)).toBe(day));

it('keeps what was typed in place, and takes it back with Escape', async () => {
  const save = jest.fn<(text: string) => Promise<void>>(() => Promise.resolve());
  const { user } = show(<InPlace value="Ash" label="town" onSave={save} />);
  await user.click(screen.getByRole('button', { name: 'town: Ash. Edit' }));
  await user.clear(screen.getByRole('textbox', { name: 'town' }));
  await user.type(screen.getByRole('textbox', { name: 'town' }), 'Birch{Escape}');
  expect(save).not.toHaveBeenCalled();
  await user.click(screen.getByRole('button', { name: 'town: Ash. Edit' }));
  // All of it is selected.
  await user.keyboard(' Green {Enter}');
  expect(save).toHaveBeenCalledWith('Green');
  await waitFor(() => expect(document.activeElement).toBe(screen.getByRole('button')));
});

it('shows what somebody else wrote meanwhile, and never writes over it unasked', async () => {
  const save = jest.fn<(text: string) => Promise<void>>(() => Promise.resolve());
  function Town() {
    const [town, setTown] = useState('Ash');
    return (
      <>
        <InPlace value={town} label="town" onSave={save} />
        <button onMouseDown={(event) => event.preventDefault()} onClick={() => setTown('Birch')}>
          the other writes
        </button>
      </>
    );
  }
  const { user } = show(<Town />);
  await user.click(screen.getByRole('button', { name: 'town: Ash. Edit' }));
  await user.click(screen.getByRole('button', { name: 'the other writes' }));
  expect(screen.getByRole('status').textContent).toContain('Changed elsewhere to “Birch”');
  // Who typed nothing has nothing to say about it.
  await user.click(screen.getByRole('textbox', { name: 'town' }));
  await user.keyboard('{Enter}');
  expect(save).not.toHaveBeenCalled();
  await user.click(screen.getByRole('button', { name: 'town: Birch. Edit' }));
  await user.keyboard('Cedar{Enter}');
  expect(save).toHaveBeenCalledWith('Cedar');
});

it('stands still while it is kept, and leaves the focus to who went elsewhere', async () => {
  let kept: () => void = () => undefined;
  const save = jest.fn<(text: string) => void>();
  function Town() {
    const [town, setTown] = useState('Ash');
    return (
      <>
        <InPlace
          value={town}
          label="town"
          onSave={(text) => {
            save(text);
            // It is shown at once, and kept later.
            setTown(text);
            return new Promise<void>((resolve) => (kept = resolve));
          }}
        />
        <button>elsewhere</button>
      </>
    );
  }
  const { user } = show(<Town />);
  await user.click(screen.getByRole('button', { name: 'town: Ash. Edit' }));
  await user.keyboard('Birch{Enter}');
  expect(screen.queryByRole('status')).toBeNull();
  await user.click(screen.getByRole('button', { name: 'elsewhere' }));
  expect(screen.queryByRole('status')).toBeNull();
  act(kept);
  await screen.findByRole('button', { name: 'town: Birch. Edit' });
  await new Promise(requestAnimationFrame);
  expect(document.activeElement).toBe(screen.getByRole('button', { name: 'elsewhere' }));
  expect(save.mock.calls).toEqual([['Birch']]);
});

it('says in place why a value can’t be kept, and keeps what was typed', async () => {
  const { user } = show(
    <InPlace value="" label="town" onSave={() => Promise.reject(new Error('That is no town.'))} />,
  );
  await user.click(screen.getByRole('button', { name: 'town: none. Edit' }));
  await user.type(screen.getByRole('textbox', { name: 'town' }), 'x{Enter}');
  expect(await screen.findByText('That is no town.')).toBeTruthy();
  expect(screen.getByRole('textbox', { name: 'town' })).toHaveProperty('value', 'x');
});

function Doing({ what }: { readonly what: Command<string> }) {
  return <button onClick={() => void command(what)}>do it</button>;
}

it('says that something was done only when it was, and offers the way back', async () => {
  const undo = jest.fn<(name: string) => Promise<void>>(() => Promise.resolve());
  let answer: (name: string) => void = () => undefined;
  const { user } = show(
    <Doing
      what={{
        run: () => new Promise((resolve) => (answer = resolve)),
        says: (name) => `“${name}” was deleted.`,
        undo,
      }}
    />,
  );
  await user.click(screen.getByRole('button', { name: 'do it' }));
  expect(screen.queryByText(/was deleted/)).toBeNull();
  answer('Spring');
  expect(await screen.findByText(/“Spring” was deleted/)).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Undo' }));
  expect(await screen.findByText('Taken back.')).toBeTruthy();
  expect(undo).toHaveBeenCalledWith('Spring');
  await waitFor(() => expect(screen.queryByText(/“Spring” was deleted/)).toBeNull());
});

it('says why something was refused, and nothing of having done it', async () => {
  const { user } = show(
    <Doing
      what={{
        run: () => Promise.reject({ status: 422, data: { detail: 'It is about to be sent.' } }),
        says: () => 'It was deleted.',
      }}
    />,
  );
  await user.click(screen.getByRole('button', { name: 'do it' }));
  expect(await screen.findByText('It is about to be sent.')).toBeTruthy();
  expect(screen.queryByText('It was deleted.')).toBeNull();
});
