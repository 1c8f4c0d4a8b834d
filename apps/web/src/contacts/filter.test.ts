// The place of a list in the address bar.
import fc from 'fast-check';
import { filterText, readFilter } from './filter.js';

it('comes back from the address bar as it was', () => {
  const filter = fc.record({
    of: fc.option(fc.constantFrom('segment.4', 'campaign.12.opened'), { nil: undefined }),
    q: fc.option(fc.string({ minLength: 1 }), { nil: undefined }),
    tag: fc.option(fc.integer({ min: 1, max: 999_999_999 }), { nil: undefined }),
    pool: fc.option(fc.integer({ min: 1, max: 9 }), { nil: undefined }),
    standing: fc.constantFrom('no address' as const, 'may be mailed' as const, undefined),
  });
  fc.assert(
    fc.property(filter, (one) =>
      expect(readFilter(new URLSearchParams(filterText(one)))).toEqual(one),
    ),
  );
});

it.each([
  '?tag=0',
  '?tag=-1',
  '?tag=1e9',
  '?tag=abc',
  '?pool=99999999999',
  '?standing=rich',
  '?tag=1&tag=2',
])('makes sense of %s', (text) => {
  const { tag, pool, standing } = readFilter(new URLSearchParams(text));
  expect([tag, pool, standing]).toEqual([
    text === '?tag=1&tag=2' ? 1 : undefined,
    undefined,
    undefined,
  ]);
});

it('leaves out what says nothing', () => expect(filterText({ q: '', tag: undefined })).toBe(''));
