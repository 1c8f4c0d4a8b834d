import { EventEmitter } from 'node:events';
import type { Request, Response } from 'express';
import { Foreground, Stride } from './stride.js';

const begin = (foreground: Foreground, accept = 'application/json'): (() => void) => {
  const response = new EventEmitter();
  let isNext = false;
  foreground.watch(
    { headers: { accept } } as Request,
    response as unknown as Response,
    () => (isNext = true),
  );
  expect(isNext).toBe(true);
  return () => response.emit('close');
};
const settled = async (promise: Promise<unknown>): Promise<boolean> => {
  let is = false;
  void promise.then(() => (is = true));
  await new Promise((resolve) => setTimeout(resolve, 10));
  return is;
};

it('lets the requests in flight go first, but not for ever', async () => {
  const foreground = new Foreground();
  begin(foreground, 'text/event-stream');
  expect(await settled(foreground.quiet())).toBe(true);
  const [one, two] = [begin(foreground), begin(foreground)];
  const waiting = foreground.quiet();
  one();
  expect(await settled(waiting)).toBe(false);
  two();
  expect(await settled(waiting)).toBe(true);

  const own = begin(foreground);
  await foreground.aside(() => foreground.quiet());
  expect(await settled(foreground.quiet())).toBe(false);
  own();

  begin(foreground); // never ends
  const started = performance.now();
  await foreground.quiet();
  expect(performance.now() - started).toBeGreaterThan(80);
});

it.each([
  ['grows at most twofold', 100, 0, 200, false],
  ['shrinks to what fits', 1000, 600, 100, false],
  ['keeps its least', 60, 600, 50, false],
  ['takes longer steps where nobody is at work', 1000, 600, 300, true],
])('%s', async (_, size, took, expected, isRested) => {
  let now = -took;
  const foreground = new Foreground();
  foreground.hasRested = () => isRested;
  const stride = new Stride(foreground, size, 50, 5000, () => (now += took));
  expect(await stride.step((given) => Promise.resolve(given))).toBe(size);
  expect(stride.size).toBe(expected);
});

it('does not grow beyond its most, and passes errors on', async () => {
  const stride = new Stride(new Foreground(), 4000, 50, 5000);
  await expect(stride.step(() => Promise.reject(new Error('no')))).rejects.toThrow('no');
  await stride.step(() => Promise.resolve());
  expect(stride.size).toBe(5000);
});
