import fc from 'fast-check';
import { idOf } from '../kernel/index.js';
import { alikeTags, type TagId } from './index.js';

const pairs = (...names: string[]): number[][] =>
  alikeTags(names.map((name, at) => ({ id: idOf<TagId>(at + 1), name }))).map(({ one, other }) => [
    one,
    other,
  ]);

it.each([
  ['workshop list', 'workshops list'],
  ['workshop list', 'list workshop'],
  ['party', 'parties'],
  ['glass', 'glasses'],
  ['volunteer', 'voluntear'],
  ['volunteer', 'volunter'],
  ['volunteer', 'voluntere'],
  ['glass-house friend', 'glasshouse freind'],
  ['Größe', 'grosze'],
])('“%s” and “%s” may be one', (one, other) => expect(pairs(one, other)).toEqual([[1, 2]]));

it.each([
  ['donor', 'door'],
  ['guest 2025', 'guest 2026'],
  ['press', 'presence'],
  ['VIP', 'VAP'],
  ['glass', 'glas'],
  ['school', 'family'],
  ['member', 'remember'],
])('“%s” and “%s” are two', (one, other) => expect(pairs(one, other)).toEqual([]));

it('names each pair once, whatever the order', () => {
  expect(pairs('lists', 'list', 'lsit', 'press')).toEqual([[1, 2]]);
  const names = fc.array(fc.string({ unit: 'grapheme', maxLength: 60 }), { maxLength: 30 });
  fc.assert(
    fc.property(names, (some) => {
      const found = pairs(...some);
      expect(new Set(found.map(String)).size).toBe(found.length);
      for (const [one = 0, other = 0] of found) expect(one).toBeLessThan(other);
    }),
  );
});

it('points out no more than can be looked through, of thousands that are all alike', () => {
  const many = Array.from({ length: 3000 }, (_, at) => `${'ab'.repeat(28)}${'xyz'[at % 3]}`);
  expect(pairs(...many)).toHaveLength(200);
});
