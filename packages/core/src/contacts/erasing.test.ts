import { expect, it } from '@jest/globals';
import fc from 'fast-check';
import { addressKeysIn, withoutAddresses, withoutAddressesIn } from './erasing.js';

const isAnna = (key: string): boolean => key === 'anna@example.com';

it.each([
  ['anna@example.com', 'erased'],
  ['Write to ANNA@Example.COM.', 'Write to erased.'],
  ['“anna@example.com”, <anna@example.com>', '“erased”, <erased>'],
  ['mailto:anna@example.com?', 'mailto:erased?'],
  ["'anna@example.com'", "'erased'"],
  ['*anna@example.com*/', '*erased*/'],
  ['@anna@example.com@', '@erased@'],
  ['joanna@example.com', 'joanna@example.com'],
  ['anna@example.com.au', 'anna@example.com.au'],
  ['anna@example.community', 'anna@example.community'],
  ['o’anna@example.com', 'o’erased'],
  ['nobody here', 'nobody here'],
  ['anna at example.com', 'anna at example.com'],
])('%j without an address is %j', (text, without) =>
  expect(withoutAddresses(text, isAnna)).toBe(without),
);

it('finds the addresses of a text by their keys', () =>
  expect(addressKeysIn("From Anna <anna@Example.com>; o’Neil, o'neil@example.org, a@b")).toEqual([
    'anna@example.com',
    "o'neil@example.org",
  ]));

it('goes through whatever JSON can say, and leaves the rest as it is', () => {
  const rule = { all: [{ is: ['Anna@example.com', 'ben@example.com'] }, { days: 3 }], off: null };
  expect(withoutAddressesIn(rule, isAnna)).toEqual({
    all: [{ is: ['erased', 'ben@example.com'] }, { days: 3 }],
    off: null,
  });
  expect(withoutAddressesIn(rule, () => false)).toBe(rule);
});

it('leaves no address that it was asked to take out, whatever stands around it', () => {
  const around = fc.array(
    fc.constantFrom('"', '“', ' ', ',', '<', '>', '(', '\\', '.', "'", 'ben@example.org '),
  );
  fc.assert(
    fc.property(around, around, (before, after) => {
      const text = `${before.join('')} anna@example.com${after[0] === undefined ? '' : ` ${after.join('')}`}`;
      expect(addressKeysIn(withoutAddresses(text, isAnna))).not.toContain('anna@example.com');
      expect(withoutAddresses(text, () => false)).toBe(text);
    }),
  );
});

it('takes a long word without an address in its stride', () =>
  expect(withoutAddresses(`${'a'.repeat(1_000_000)} @`, isAnna)).toHaveLength(1_000_002));
