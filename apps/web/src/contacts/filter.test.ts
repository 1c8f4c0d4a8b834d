// The place of a list in the address bar.
import fc from 'fast-check';
import { placeText, readPlace } from './filter.js';

it('comes back from the address bar as it was', () => {
  const filter = fc.record({
    of: fc.option(fc.constantFrom('segment.4', 'campaign.12.opened'), { nil: undefined }),
    q: fc.option(fc.string({ minLength: 1 }), { nil: undefined }),
    tag: fc.option(fc.integer({ min: 1, max: 999_999_999 }), { nil: undefined }),
    pool: fc.option(fc.integer({ min: 1, max: 9 }), { nil: undefined }),
    view: fc.option(fc.integer({ min: 1, max: 9 }), { nil: undefined }),
    filter: fc.option(fc.constant('0123456789abcdef01234567'), { nil: undefined }),
    sort: fc.constantFrom('town,-came_in', 'name', undefined),
    standing: fc.constantFrom('no address' as const, 'may be mailed' as const, undefined),
  });
  fc.assert(
    fc.property(filter, (one) =>
      expect(readPlace(new URLSearchParams(placeText(one)))).toEqual(one),
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
  '?sort=a,b,c,d,e&filter=xyz',
])('makes sense of %s', (text) => {
  const { tag, pool, standing } = readPlace(new URLSearchParams(text));
  expect([tag, pool, standing]).toEqual([
    text === '?tag=1&tag=2' ? 1 : undefined,
    undefined,
    undefined,
  ]);
});

it('leaves out what says nothing', () => expect(placeText({ q: '', tag: undefined })).toBe(''));
