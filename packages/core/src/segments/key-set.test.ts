import fc from 'fast-check';
import { KeySet } from './key-set.js';

const keys = fc.uniqueArray(fc.integer({ min: 0, max: 400 }));
const sorted = (all: Iterable<number>): number[] => [...all].sort((a, b) => a - b);

it('does with keys what sets do', () => {
  fc.assert(
    fc.property(keys, keys, (some, others) => {
      const [one, other] = [KeySet.of(some), KeySet.of(others)];
      const [ones, those] = [new Set(some), new Set(others)];
      expect([...one]).toEqual(sorted(some));
      expect([...one.and(other)]).toEqual(sorted(some.filter((key) => those.has(key))));
      expect([...one.without(other)]).toEqual(sorted(some.filter((key) => !those.has(key))));
      expect([...one.or(other)]).toEqual(sorted(new Set([...some, ...others])));
      expect([one.size, one.or(other).size]).toEqual([
        ones.size,
        new Set([...ones, ...those]).size,
      ]);
      for (const key of [...others, 401, 5000]) expect(one.has(key)).toBe(ones.has(key));
    }),
  );
});

it.each([
  [[], 0],
  [[0], 1],
  [[31], 1],
  [[32], 2],
  [[1_000_000], 31_251],
])('keeps %j in as few words as it takes', (all, words) => {
  expect(KeySet.of(all).words).toHaveLength(words);
  expect([...KeySet.of(all)]).toEqual(all);
});

it('leaves the sets that it is asked of as they are', () => {
  const [one, other] = [KeySet.of([1, 2]), KeySet.of([2, 90])];
  one.and(other);
  one.without(other);
  one.or(other);
  expect([[...one], [...other]]).toEqual([
    [1, 2],
    [2, 90],
  ]);
});
