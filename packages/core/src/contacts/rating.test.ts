// What a rating does and does not do, whatever somebody did with their letters.
import fc from 'fast-check';
import {
  bandOf,
  bands,
  explainRating,
  extremes,
  parseScale,
  rating,
  ratingCourse,
  ratedResponses,
  standardScale,
  type RatedLetter,
  type RatedResponse,
  type RatingScale,
} from './rating.js';

const NOW = 20_000;
const moment = fc.double({ min: NOW - 1200, max: NOW, noNaN: true });
const after = (arrived: number) =>
  fc
    .option(fc.double({ min: 0, max: 400, noNaN: true }), { freq: 2 })
    .map((wait) => (wait === null ? null : arrived + wait));
const aLetter: fc.Arbitrary<RatedLetter> = moment.chain((arrived) =>
  fc.record({
    arrived: fc.constant(arrived),
    opened: after(arrived),
    clicked: after(arrived),
    replied: after(arrived),
  }),
);
const letters = fc.array(aLetter, { maxLength: 40 });
const weight = fc.integer({ min: 0, max: 100 });
const aScale: fc.Arbitrary<RatingScale> = fc
  .record({
    weights: fc
      .record({ opened: weight, clicked: weight, replied: weight })
      .filter((weights) => ratedResponses.some((one) => weights[one] > 0)),
    halfLife: fc.integer({ min: 7, max: 1095 }),
    steady: fc.integer({ min: 1, max: 98 }),
    gap: fc.integer({ min: 1, max: 98 }),
  })
  .map(({ steady, gap, ...rest }) => ({ ...rest, steady, keen: Math.min(100, steady + gap) }));

/** The same, of whom there are letters enough. */
const rated = (some: readonly RatedLetter[], scale: RatingScale, now: number): number =>
  rating(some, scale, now) ?? NaN;

const ignored = (arrived: number): RatedLetter => ({
  arrived,
  opened: null,
  clicked: null,
  replied: null,
});
const answered = (arrived: number, ...responses: RatedResponse[]): RatedLetter => ({
  ...ignored(arrived),
  ...Object.fromEntries(responses.map((one) => [one, arrived + 1])),
});
const many = (count: number, one: (arrived: number) => RatedLetter): RatedLetter[] =>
  Array.from({ length: count }, (_, at) => one(NOW - 5 - at * 14));

it('lies between 0 and 100, and is none under three letters', () => {
  fc.assert(
    fc.property(letters, aScale, (some, scale) => {
      const now = rating(some, scale, NOW);
      if (some.length < 3) expect(now).toBeNull();
      else expect([...Array(101).keys()]).toContain(now);
    }),
  );
});

it('is never raised by a letter that is ignored', () => {
  fc.assert(
    fc.property(letters, moment, aScale, (some, arrived, scale) => {
      const before = rating(some, scale, NOW);
      if (before === null) return;
      expect(rated([...some, ignored(arrived)], scale, NOW)).toBeLessThanOrEqual(before);
    }),
  );
});

it('is never lowered by what somebody does', () => {
  fc.assert(
    fc.property(
      fc.array(aLetter, { minLength: 3, maxLength: 40 }),
      fc.nat(),
      fc.constantFrom(...ratedResponses),
      aScale,
      (some, which, response, scale) => {
        const at = which % some.length;
        const more = some.map((letter, own) =>
          own === at ? { ...letter, [response]: Math.min(letter[response] ?? NOW, NOW) } : letter,
        );
        expect(rated(more, scale, NOW)).toBeGreaterThanOrEqual(rated(some, scale, NOW));
      },
    ),
  );
});

it('takes a reply for no opening, whichever came first', () => {
  const scale: RatingScale = {
    weights: { opened: 100, clicked: 100, replied: 0 },
    halfLife: 90,
    steady: 25,
    keen: 60,
  };
  const got = { arrived: NOW - 5, opened: null, clicked: null, replied: null };
  const replied = { ...got, replied: NOW - 4 };
  expect(rating([replied, replied, replied], scale, NOW)).toBe(rating([got, got, got], scale, NOW));
  const both = { ...replied, opened: NOW - 1 };
  expect(rating([both, both, both], scale, NOW)).toBe(
    rating(
      [got, got, got].map((one) => ({ ...one, opened: NOW - 1 })),
      scale,
      NOW,
    ),
  );
});

it('takes who clicked for somebody who opened, whether pictures were loaded or not', () => {
  fc.assert(
    fc.property(letters, aScale, (some, scale) => {
      const shown = some.map((letter) => {
        const { opened, clicked } = letter;
        return clicked === null
          ? letter
          : { ...letter, opened: Math.min(opened ?? Infinity, clicked) };
      });
      expect(rating(shown, scale, NOW)).toBe(rating(some, scale, NOW));
    }),
  );
});

it('has a course that is what it was on each day', () => {
  fc.assert(
    fc.property(letters, aScale, fc.nat(200), (some, scale, days) => {
      const course = ratingCourse(some, scale, NOW, days);
      expect(course).toHaveLength(days + 1);
      for (const ago of [0, 1, days >> 1, days].filter((one) => one <= days)) {
        const one = rating(some, scale, NOW - ago);
        // The same sums in another order: halves may be rounded either way.
        if (one === null) expect(course[ago]).toBeNull();
        else expect(Math.abs((course[ago] ?? NaN) - one)).toBeLessThanOrEqual(1);
      }
    }),
  );
});

it('keeps who got few letters nearer to the middle than who got many', () => {
  const clicked = (count: number): number =>
    rated(
      many(count, (at) => answered(at, 'clicked')),
      standardScale,
      NOW,
    );
  const silent = (count: number): number => rated(many(count, ignored), standardScale, NOW);
  expect(clicked(3)).toBeLessThan(clicked(30));
  expect(silent(3)).toBeGreaterThan(silent(30));
});

it('lets a letter count less the older it is', () => {
  const old = [...many(6, ignored), answered(NOW - 700, 'clicked')];
  const late = [...many(6, ignored), answered(NOW - 30, 'clicked')];
  expect(rated(late, standardScale, NOW)).toBeGreaterThan(rated(old, standardScale, NOW));
});

it.each<[string, string, readonly RatedLetter[]]>([
  ['nothing yet', 'new', []],
  ['two letters, both clicked', 'new', many(2, (at) => answered(at, 'clicked'))],
  ['every letter ignored', 'quiet', many(12, ignored)],
  ['every letter opened', 'keen', many(12, (at) => answered(at, 'opened'))],
  [
    'every other letter opened',
    'steady',
    many(12, (at) => (Math.round((NOW - 5 - at) / 14) % 2 ? ignored(at) : answered(at, 'opened'))),
  ],
  ['every letter clicked', 'keen', many(12, (at) => answered(at, 'clicked'))],
  [
    'clicked all along, silent for two months of weekly letters',
    'fading',
    [
      ...Array.from({ length: 20 }, (_, at) => answered(NOW - 70 - at * 7, 'clicked')),
      ...Array.from({ length: 9 }, (_, at) => ignored(NOW - 2 - at * 7)),
    ],
  ],
])('%s: %s', (_, band, some) => {
  const course = ratingCourse(some, standardScale, NOW, 90);
  expect(bandOf(course[0] ?? null, extremes(course).high, standardScale)).toBe(band);
});

it('fades exactly by twenty, whatever the thresholds', () => {
  expect(bandOf(70, 90, standardScale)).toBe('fading');
  expect(bandOf(71, 90, standardScale)).toBe('keen');
  expect(bandOf(5, 25, standardScale)).toBe('fading');
  expect(bandOf(null, 90, standardScale)).toBe('new');
  expect(new Set(bands).size).toBe(5);
});

it('looks at the days before today for what was highest and lowest', () => {
  expect(extremes([50, 40, null, 60])).toEqual({ high: 60, low: 40 });
  expect(extremes([50])).toEqual({ high: null, low: null });
  expect(extremes([50, 0, 30])).toEqual({ high: 30, low: 0 });
});

it('is explained to the point', () => {
  fc.assert(
    fc.property(letters, aScale, (some, scale) => {
      const known = some.filter(({ arrived }) => arrived <= NOW);
      const told = explainRating(some, scale, NOW);
      expect(told.rating).toBe(rating(some, scale, NOW));
      expect(told.parts.reduce((sum, { letters: count }) => sum + count, 0)).toBe(known.length);
      const points = told.parts.reduce((sum, part) => sum + part.points, told.middle);
      expect(points).toBe(told.rating ?? 0);
      const { next } = told;
      if (told.rating === null) return;
      expect(next.ignored).toBeLessThanOrEqual(told.rating);
      for (const one of ratedResponses)
        expect(next[one]).toBeGreaterThanOrEqual(next.ignored ?? NaN);
    }),
  );
});

it('names what counted', () => {
  const some = [
    ...many(4, (at) => answered(at, 'opened')),
    answered(NOW - 3, 'opened', 'replied'),
    ignored(NOW - 9),
  ];
  const told = explainRating(some, standardScale, NOW);
  expect(told.parts.map(({ response, letters: count }) => [response, count])).toEqual([
    ['replied', 1],
    ['opened', 4],
    [null, 1],
  ]);
  expect(told.parts.at(-1)?.points).toBe(0);
});

it('reads the scale it wrote', () => {
  fc.assert(
    fc.property(aScale, (scale) => {
      expect(parseScale(JSON.parse(JSON.stringify(scale)))).toEqual({ ok: true, value: scale });
    }),
  );
});

const bent = (
  change: (scale: { -readonly [K in keyof RatingScale]: unknown }) => void,
): unknown => {
  const scale = structuredClone(standardScale) as { -readonly [K in keyof RatingScale]: unknown };
  change(scale);
  return scale;
};

it.each<[string, unknown, RegExp]>([
  ['nothing', null, /weight/],
  ['a text', 'scale', /weight/],
  [
    'weights of nothing',
    bent((s) => (s.weights = { opened: 0, clicked: 0, replied: 0 })),
    /sum to nothing/,
  ],
  [
    'a weight below nothing',
    bent((s) => (s.weights = { opened: -1, clicked: 0, replied: 5 })),
    /“opened”/,
  ],
  [
    'half a weight',
    bent((s) => (s.weights = { opened: 1, clicked: 0.5, replied: 5 })),
    /“clicked”/,
  ],
  ['a weight missing', bent((s) => (s.weights = { opened: 1, clicked: 5 })), /“replied”/],
  ['no time at all', bent((s) => (s.halfLife = 0)), /7 to 1095/],
  ['endless time', bent((s) => (s.halfLife = Infinity)), /7 to 1095/],
  ['bands the wrong way round', bent((s) => (s.steady = 70)), /above/],
  ['bands at one place', bent((s) => (s.steady = 60)), /above/],
  ['a band beyond the end', bent((s) => (s.keen = 101)), /1 to 100/],
])('refuses %s', (_, raw, why) => {
  const read = parseScale(raw);
  expect(read.ok).toBe(false);
  expect(read.ok ? '' : read.error).toMatch(why);
});
