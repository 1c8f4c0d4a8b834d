import fc from 'fast-check';
import { figures, percent, rateText, type ResultCounts } from './index.js';

const counts: ResultCounts = {
  sent: 10,
  accepted: 8,
  arrived: 8,
  bounced: 2,
  bouncedHard: 1,
  bouncedSoft: 0,
  bouncedOther: 1,
  complained: 0,
  replied: 0,
  gaveUp: 0,
  deferred: 0,
  uncertain: 0,
  stopped: 0,
  heldBackLate: 0,
  waiting: 0,
  opened: 4,
  notOpened: 4,
  clicked: 2,
  left: 1,
  machineOpened: 3,
  machineClicked: 0,
};

it('names the denominator of every rate', () => {
  expect(figures(counts)).toEqual({
    delivered: { count: 8, of: 10, ofWhat: 'sent' },
    opened: { count: 4, of: 8, ofWhat: 'delivered' },
    clicked: { count: 2, of: 8, ofWhat: 'delivered' },
    bounced: { count: 2, of: 10, ofWhat: 'sent' },
    left: { count: 1, of: 8, ofWhat: 'delivered' },
  });
});

it('counts what came back after it was opened among those that arrived', () => {
  const { opened, delivered } = figures({ ...counts, accepted: 0, arrived: 4, opened: 4 });
  expect(opened).toEqual({ count: 4, of: 4, ofWhat: 'that arrived' });
  expect(delivered).toEqual({ count: 0, of: 10, ofWhat: 'sent' });
});

it('has no rate of nothing', () => {
  expect(percent({ count: 0, of: 0 })).toBeUndefined();
  expect(rateText({ count: 0, of: 0 })).toBe('');
});

it.each([
  [1, 3, '33.3 %'],
  [0, 9, '0.0 %'],
  [9, 9, '100.0 %'],
  [9999, 10_000, '99.9 %'],
  [1, 10_000, 'under 0.1 %'],
])('reads %i of %i as %s', (count, of, text) => expect(rateText({ count, of })).toBe(text));

it('reads 100.0 % only for everybody and 0.0 % only for nobody', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1_000_000 }), fc.nat(), (of, part) => {
      const count = part % (of + 1);
      const text = rateText({ count, of });
      expect(text === '100.0 %').toBe(count === of);
      expect(text === '0.0 %').toBe(count === 0);
    }),
  );
});
