/** @jest-environment ./apps/web/src/testing/environment.mjs */
// Streams of events: followed as long as there is something to follow.
import { afterEach, beforeEach, expect, it, jest } from '@jest/globals';
import { act, cleanup, renderHook } from '@testing-library/react';
import { useStream } from './stream';

class Source {
  static readonly all: Source[] = [];
  onmessage: (event: { data: string }) => void = () => undefined;
  isOpen = true;
  constructor(readonly url: string) {
    Source.all.push(this);
  }
  close(): void {
    this.isOpen = false;
  }
  tell(value: unknown): void {
    act(() => this.onmessage({ data: JSON.stringify(value) }));
  }
}

beforeEach(() => {
  Source.all.length = 0;
  Object.assign(globalThis, { EventSource: Source });
});
afterEach(cleanup);

it('follows one path at a time, until there is none', () => {
  const onNext = jest.fn();
  const { result, rerender } = renderHook<number | undefined, { path: string | undefined }>(
    ({ path }) => useStream<number>(path, onNext),
    { initialProps: { path: '/imports/1/live' } },
  );
  const [first] = Source.all;
  first?.tell(1);
  // What the server ends may have been set going anew: the browser asks again.
  first?.tell(2);
  expect({ told: result.current, isOpen: first?.isOpen }).toEqual({ told: 2, isOpen: true });
  expect(onNext.mock.calls).toEqual([
    [1, undefined],
    [2, 1],
  ]);
  rerender({ path: '/imports/2/live' });
  expect({ told: result.current, isOpen: first?.isOpen }).toEqual({
    told: undefined,
    isOpen: false,
  });
  rerender({ path: undefined });
  expect(Source.all.map(({ url, isOpen }) => [url, isOpen])).toEqual([
    ['/api/imports/1/live', false],
    ['/api/imports/2/live', false],
  ]);
});
