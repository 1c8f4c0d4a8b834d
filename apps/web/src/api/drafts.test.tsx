/** @jest-environment ./apps/web/src/testing/environment.mjs */
// Saved as it is made; when somebody else was faster, neither state is lost.
import { afterEach, beforeEach, describe, expect, it, jest } from '@jest/globals';
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

describe('what somebody else saved meanwhile', () => {
  const followed: Text[] = [];
  const following = (save: Save) => {
    followed.length = 0;
    return renderHook(
      ({ text, version }: Text & { readonly version: number }) =>
        useDraft<Text>({
          value: { text },
          version,
          save,
          read: (current: Text & { version: number }) => ({ text: current.text }),
          follow: (value) => followed.push(value),
        }),
      { initialProps: { text: 'first', version: 1 } },
    );
  };

  it('is taken over as soon as it is read, where nothing of ours waits', async () => {
    const save = jest.fn<Save>(() => Promise.resolve({ version: 3 }));
    const { result, rerender } = following(save);
    act(() => rerender({ text: 'theirs', version: 2 }));
    expect(result.current.value).toEqual({ text: 'theirs' });
    expect(followed).toEqual([{ text: 'theirs' }]);
    // An answer that was overtaken changes nothing.
    act(() => rerender({ text: 'old', version: 1 }));
    expect(result.current.value).toEqual({ text: 'theirs' });
    act(() => result.current.change({ text: 'theirs, and ours' }));
    await pass();
    expect(save).toHaveBeenCalledWith({ text: 'theirs, and ours' }, 2);
  });

  it('does not take the place of what is being written', async () => {
    const save = jest.fn<Save>((_, version) =>
      version === 7 ? Promise.resolve({ version: 8 }) : Promise.reject(refused(409, faster)),
    );
    const { result, rerender } = following(save);
    act(() => result.current.change({ text: 'ours' }));
    act(() => rerender({ text: 'theirs', version: 7 }));
    expect(result.current.value).toEqual({ text: 'ours' });
    expect(followed).toEqual([]);
    await pass();
    expect(result.current.state.kind).toBe('conflict');
    act(() => result.current.settle({ text: 'of both' }));
    await pass();
    expect(save).toHaveBeenLastCalledWith({ text: 'of both' }, 7);
    expect(result.current).toMatchObject({ value: { text: 'of both' }, state: { kind: 'saved' } });
  });
});

it('lets something else be done to the thing between two saves', async () => {
  const save = jest.fn<Save>((_, version) => Promise.resolve({ version: version + 1 }));
  const { now } = draftOf(save);
  write(now, 'before');
  const seen: number[] = [];
  let done: Promise<unknown> | undefined;
  act(() => {
    done = now().apart(async (version) => {
      seen.push(version);
      await new Promise((resolve) => setTimeout(resolve, 2000));
      return { version: version + 10 };
    });
  });
  await pass();
  write(now, 'meanwhile');
  await act(() => jest.advanceTimersByTimeAsync(1000));
  expect(save.mock.calls).toEqual([[{ text: 'before' }, 1]]);
  await act(() => jest.advanceTimersByTimeAsync(5000));
  expect(await done).toEqual({ version: 12 });
  expect(seen).toEqual([2]);
  expect(save).toHaveBeenLastCalledWith({ text: 'meanwhile' }, 12);
  expect(now().state).toEqual({ kind: 'saved' });
});

it('goes on from the version there was when the other thing was not done', async () => {
  const save = jest.fn<Save>((_, version) => Promise.resolve({ version: version + 1 }));
  const { now } = draftOf(save);
  await act(async () =>
    expect(await now().apart(() => Promise.resolve(undefined))).toBeUndefined(),
  );
  write(now, 'after');
  await pass();
  expect(save.mock.calls).toEqual([[{ text: 'after' }, 1]]);
});
