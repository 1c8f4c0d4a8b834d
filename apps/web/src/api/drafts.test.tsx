/** @jest-environment ./apps/web/src/testing/environment.mjs */
// Saved as it is made; when somebody else was faster, neither state is lost.
import { afterEach, beforeEach, expect, it, jest } from '@jest/globals';
import { act, cleanup, renderHook } from '@testing-library/react';
import { useDraft, type Draft } from './drafts';

interface Text {
  readonly text: string;
}
type Save = (value: Text, version: number) => Promise<{ version: number }>;

const draftOf = (save: Save): { readonly now: () => Draft<Text> } => {
  const { result } = renderHook(() =>
    useDraft<Text>({
      value: { text: 'first' },
      version: 1,
      save,
      read: ({ text }: Text & { version: number }) => ({ text }),
    }),
  );
  return { now: () => result.current };
};
const write = (draft: () => Draft<Text>, text: string): void => act(() => draft().change({ text }));
const pass = (): Promise<void> => act(() => jest.advanceTimersByTimeAsync(600));
const refused = (status: number, more: object = {}): unknown => ({
  status,
  data: { status, detail: 'not now', ...more },
});

beforeEach(() => void jest.useFakeTimers());
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

it('saves once what was changed several times in a row, over the version it was read at', async () => {
  const save = jest.fn<Save>(() => Promise.resolve({ version: 2 }));
  const { now } = draftOf(save);
  for (const text of ['f', 'fi', 'fin']) write(now, text);
  expect(now().state).toEqual({ kind: 'unsaved' });
  await pass();
  expect(save.mock.calls).toEqual([[{ text: 'fin' }, 1]]);
  expect(now().state).toEqual({ kind: 'saved' });
  write(now, 'fine');
  await pass();
  expect(save).toHaveBeenLastCalledWith({ text: 'fine' }, 2);
});

it('goes on with the latest state while one is being saved, one save at a time', async () => {
  let running = 0;
  const saved: string[] = [];
  const { now } = draftOf(async ({ text }, version) => {
    expect(++running).toBe(1);
    await new Promise((resolve) => setTimeout(resolve, 1000));
    running--;
    saved.push(text);
    return { version: version + 1 };
  });
  write(now, 'a');
  await pass();
  write(now, 'b');
  write(now, 'c');
  await act(() => jest.advanceTimersByTimeAsync(5000));
  expect(saved).toEqual(['a', 'c']);
});

it('saves nothing that was not changed, and says which version there is', async () => {
  const save = jest.fn<Save>();
  const { now } = draftOf(save);
  const { value } = now();
  act(() => now().change(value));
  await pass();
  await act(async () => expect(await now().flush()).toBe(1));
  expect(save).not.toHaveBeenCalled();
});

it('keeps what was typed when saving fails, and tries again', async () => {
  let isUp = false;
  const { now } = draftOf(() =>
    isUp ? Promise.resolve({ version: 2 }) : Promise.reject(refused(503)),
  );
  write(now, 'kept');
  await pass();
  expect(now()).toMatchObject({
    value: { text: 'kept' },
    state: { kind: 'wrong', text: 'not now' },
  });
  isUp = true;
  await act(async () => expect(await now().flush()).toBe(2));
  expect(now().state).toEqual({ kind: 'saved' });
});

const faster = { current: { version: 7, text: 'theirs' } };

it('writes over the other state when that is chosen', async () => {
  const save = jest.fn<Save>((_, version) =>
    version === 7 ? Promise.resolve({ version: 8 }) : Promise.reject(refused(409, faster)),
  );
  const { now } = draftOf(save);
  write(now, 'mine');
  await pass();
  expect(now().state).toEqual({ kind: 'conflict', theirs: { text: 'theirs' }, version: 7 });
  // What is typed meanwhile is not lost, and not saved before somebody has chosen.
  write(now, 'mine, more');
  expect(now().state.kind).toBe('conflict');
  act(() => now().keepMine());
  await pass();
  expect(save).toHaveBeenLastCalledWith({ text: 'mine, more' }, 7);
  expect(now()).toMatchObject({ value: { text: 'mine, more' }, state: { kind: 'saved' } });
});

it('takes the other state when that is chosen, and goes on from there', async () => {
  const save = jest.fn<Save>((_, version) =>
    version === 7 ? Promise.resolve({ version: 8 }) : Promise.reject(refused(409, faster)),
  );
  const { now } = draftOf(save);
  write(now, 'mine');
  await pass();
  act(() => now().takeTheirs());
  expect(now()).toMatchObject({ value: { text: 'theirs' }, state: { kind: 'saved' } });
  await pass();
  expect(save).toHaveBeenCalledTimes(1);
  write(now, 'theirs, and more');
  await pass();
  expect(save).toHaveBeenLastCalledWith({ text: 'theirs, and more' }, 7);
});
