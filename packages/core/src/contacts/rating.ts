// How responsive somebody is, from 0 to 100, by what they themselves did with the letters that reached them. One formula:
// people's ratings, their course, what the bands would be under another scale, and what a rating is made of all come from it.
//
//   rating = 100 · (Σ weight · value + FEW · ½) / (Σ weight + FEW)     over all letters that arrived
//
// weight  2^(−age / halfLife), the letter's age and the half-life in days
// value   of the best response to it, as a part of the scale's heaviest one; nothing where there was none
// FEW     so many letters' worth of the middle stand beside their own, so that few letters tell little
import { fail, ok, type Result } from '../kernel/index.js';

export const bands = ['new', 'quiet', 'fading', 'steady', 'keen'] as const;
export type Band = (typeof bands)[number];

/** What a person can do about a letter that counts. */
export const ratedResponses = ['opened', 'clicked', 'replied'] as const;
export type RatedResponse = (typeof ratedResponses)[number];

/** A letter that arrived, and when they first did what with it; moments in days since 1970. */
export interface RatedLetter extends Readonly<Record<RatedResponse, number | null>> {
  readonly arrived: number;
}

/** What the office says. */
export interface RatingScale {
  /** 0 to 100, not all of them 0. */
  readonly weights: Readonly<Record<RatedResponse, number>>;
  /** After so many days a letter counts half. */
  readonly halfLife: number;
  /** From which rating on somebody is steady, and keen. */
  readonly steady: number;
  readonly keen: number;
}

export const standardScale: RatingScale = {
  weights: { opened: 60, clicked: 100, replied: 100 },
  halfLife: 90,
  steady: 30,
  keen: 55,
};

/** In letters. Fewer that arrived are no ground for a rating. */
export const RATED_FROM = 3;
/** In letters' worth. */
const FEW = 2;
const MIDDLE = 0.5;
/** Whoever fell so far within so many days is fading. */
export const FADING_BY = 20;
export const FADING_WITHIN = 90;
/** Whoever rose so far within the same time is worth a word. */
export const RISEN_BY = 20;

export const HALF_LIFE = { least: 7, most: 1095 } as const;

const isWhole = (value: unknown, least: number, most: number): value is number =>
  typeof value === 'number' && Number.isInteger(value) && value >= least && value <= most;

/** Reads a scale that was sent or kept. */
export function parseScale(raw: unknown): Result<RatingScale, string> {
  const given = (typeof raw === 'object' && raw !== null ? raw : {}) as Record<string, unknown>;
  const weights = (
    typeof given['weights'] === 'object' && given['weights'] !== null ? given['weights'] : {}
  ) as Record<string, unknown>;
  for (const response of ratedResponses)
    if (!isWhole(weights[response], 0, 100))
      return fail(`The weight of “${response}” is a whole number from 0 to 100.`);
  const known = weights as Record<RatedResponse, number>;
  if (ratedResponses.every((response) => known[response] === 0))
    return fail(
      'The weights sum to nothing, and nobody could be rated. Give at least one response a weight.',
    );
  const { halfLife, steady, keen } = given;
  if (!isWhole(halfLife, HALF_LIFE.least, HALF_LIFE.most))
    return fail(`A letter counts half after ${HALF_LIFE.least} to ${HALF_LIFE.most} days.`);
  if (!isWhole(steady, 1, 99) || !isWhole(keen, 2, 100))
    return fail('The bands begin at whole numbers from 1 to 100.');
  if (steady >= keen)
    return fail('“Keen” begins above “steady”. Raise the one or lower the other.');
  const { opened, clicked, replied } = known;
  return ok({ weights: { opened, clicked, replied }, halfLife, steady, keen });
}

/** When a response is known from; who clicked has opened the letter, whether its pictures were loaded or not. A reply is no opening, here or in any number. */
function since(letter: RatedLetter, response: RatedResponse): number {
  const { opened, clicked } = letter;
  if (response !== 'opened') return letter[response] ?? Infinity;
  return Math.min(opened ?? Infinity, clicked ?? Infinity);
}

/** The response that counts, the heaviest of those until a moment; undefined where there was none that weighs. */
function best(
  letter: RatedLetter,
  { weights }: RatingScale,
  now: number,
): RatedResponse | undefined {
  let found: RatedResponse | undefined;
  for (const response of ratedResponses) {
    if (since(letter, response) > now || weights[response] === 0) continue;
    if (found === undefined || weights[response] > weights[found]) found = response;
  }
  return found;
}

const heaviest = ({ weights }: RatingScale): number =>
  Math.max(...ratedResponses.map((response) => weights[response]));

const weigh = (age: number, { halfLife }: RatingScale): number => 2 ** (-age / halfLife);

const ratio = (sum: number, weight: number): number =>
  Math.round((100 * (sum + FEW * MIDDLE)) / (weight + FEW));

const silent: readonly RatedResponse[] = [];
const byClick: readonly RatedResponse[] = ['opened', 'clicked', 'replied'];
const repliedBetween: readonly RatedResponse[] = ['opened', 'replied', 'clicked'];
const repliedFirst: readonly RatedResponse[] = ['replied', 'opened', 'clicked'];
/** What somebody did with a letter, in the order in which they did it. */
function inOrder({ opened, clicked, replied }: RatedLetter): readonly RatedResponse[] {
  if (opened === null && clicked === null && replied === null) return silent;
  const at = replied ?? Infinity;
  if (at >= (clicked ?? Infinity)) return byClick;
  return at < (opened ?? Infinity) ? repliedFirst : repliedBetween;
}

/**
 * The rating now, a day ago, two days ago and so on, `days` + 1 of them; null where too few letters had arrived to rate by.
 * What was not known then is not counted then. Linear in letters and days.
 */
export function ratingCourse(
  letters: readonly RatedLetter[],
  scale: RatingScale,
  now: number,
  days: number,
): (number | null)[] {
  const most = heaviest(scale);
  // Each letter, and each response that counts more than those before, is a step of the two sums; weights as of now.
  const steps: { at: number; weight: number; sum: number; arrived: number }[] = [];
  for (const letter of letters) {
    if (letter.arrived > now) continue;
    const weight = weigh(now - letter.arrived, scale);
    steps.push({ at: letter.arrived, weight, sum: 0, arrived: 1 });
    let reached = 0;
    for (const response of inOrder(letter)) {
      const at = since(letter, response);
      const value = scale.weights[response] / most;
      if (at > now || value <= reached) continue;
      steps.push({
        at: Math.max(at, letter.arrived),
        weight: 0,
        sum: weight * (value - reached),
        arrived: 0,
      });
      reached = value;
    }
  }
  steps.sort((a, b) => a.at - b.at);
  const course: (number | null)[] = new Array<number | null>(days + 1).fill(null);
  let [next, weight, sum, arrived] = [0, 0, 0, 0];
  // So many days ago each letter weighed that much more.
  const aDay = weigh(1, scale);
  let then = 1 / weigh(days, scale);
  for (let ago = days; ago >= 0; ago--, then *= aDay) {
    const at = now - ago;
    for (let step = steps[next]; step && step.at <= at; step = steps[++next]) {
      weight += step.weight;
      sum += step.sum;
      arrived += step.arrived;
    }
    if (arrived < RATED_FROM) continue;
    course[ago] = ratio(then * sum, then * weight);
  }
  return course;
}

/** The rating at a moment; null where too few letters have arrived. */
export const rating = (
  letters: readonly RatedLetter[],
  scale: RatingScale,
  now: number,
): number | null => ratingCourse(letters, scale, now, 0)[0] ?? null;

/** The highest and lowest of a course, but for now; null where there was none. */
export function extremes(course: readonly (number | null)[]): {
  readonly high: number | null;
  readonly low: number | null;
} {
  let high: number | null = null;
  let low: number | null = null;
  for (let ago = 1; ago < course.length; ago++) {
    const one = course[ago];
    if (one === null || one === undefined) continue;
    if (high === null || one > high) high = one;
    if (low === null || one < low) low = one;
  }
  return { high, low };
}

/** The band of a rating, with the highest of the last days by which fading is told. */
export function bandOf(
  now: number | null,
  high: number | null,
  { steady, keen }: RatingScale,
): Band {
  if (now === null) return 'new';
  if (high !== null && high - now >= FADING_BY) return 'fading';
  if (now >= keen) return 'keen';
  return now >= steady ? 'steady' : 'quiet';
}

/** What a rating is made of; `response` is null of letters that were not answered. */
export interface RatingPart {
  readonly response: RatedResponse | null;
  readonly letters: number;
  readonly points: number;
}

export interface RatingExplained {
  readonly rating: number | null;
  /** The heaviest response first, letters without one last; together with `middle` they make the rating, to the point. */
  readonly parts: readonly RatingPart[];
  /** Points for what few letters leave open. */
  readonly middle: number;
  /** The rating after one more letter that arrives now, by what is done with it. */
  readonly next: { readonly ignored: number | null } & Readonly<
    Record<RatedResponse, number | null>
  >;
}

/** Whole numbers with the same sum, each at most one off (largest remainders). */
function wholePoints(exact: readonly number[], total: number): number[] {
  const whole = exact.map(Math.floor);
  const order = exact
    .map((value, at) => ({ at, rest: value - Math.floor(value) }))
    .sort((a, b) => b.rest - a.rest);
  let left = total - whole.reduce((sum, one) => sum + one, 0);
  for (const { at } of order) {
    if (left <= 0) break;
    whole[at] = (whole[at] ?? 0) + 1;
    left--;
  }
  return whole;
}

/** Says of a rating what counted and how much, and what the next letter would do. */
export function explainRating(
  letters: readonly RatedLetter[],
  scale: RatingScale,
  now: number,
): RatingExplained {
  const most = heaviest(scale);
  const arrived = letters.filter((letter) => letter.arrived <= now);
  const total = rating(arrived, scale, now);
  const order = [...ratedResponses].sort((a, b) => scale.weights[b] - scale.weights[a]);
  const groups = [...order, null].map((response) => ({
    response,
    of: arrived.filter((letter) => (best(letter, scale, now) ?? null) === response),
  }));
  const sumOf = (of: readonly RatedLetter[]): number =>
    of.reduce((sum, letter) => sum + weigh(now - letter.arrived, scale), 0);
  const below = sumOf(arrived) + FEW;
  const exact = groups.map(({ response, of }) =>
    response === null ? 0 : (100 * sumOf(of) * (scale.weights[response] / most)) / below,
  );
  const all = [...exact, (100 * FEW * MIDDLE) / below];
  const whole = total === null ? all.map(() => 0) : wholePoints(all, total);
  const after = (response: RatedResponse | null): number | null => {
    const one = { arrived: now, opened: null, clicked: null, replied: null };
    return rating([...arrived, response ? { ...one, [response]: now } : one], scale, now);
  };
  return {
    rating: total,
    parts: groups.flatMap(({ response, of }, at) =>
      of.length > 0 ? [{ response, letters: of.length, points: whole[at] ?? 0 }] : [],
    ),
    middle: whole.at(-1) ?? 0,
    next: {
      ignored: after(null),
      opened: after('opened'),
      clicked: after('clicked'),
      replied: after('replied'),
    },
  };
}
