// Why something can't be done: each capability has one map from a stable code to the status and the words.
import { Problem } from './problem.js';

export interface Refusal {
  readonly status: 400 | 401 | 403 | 404 | 409 | 413 | 415 | 422 | 429 | 503;
  /** What is wrong and what to do. */
  readonly words: string | ((...about: never[]) => string);
  /** The field of the request that it is about. */
  readonly at?: string;
}

type About<R> = R extends { readonly words: (...about: infer A) => string } ? A : [];

/** Makes the refusal of a code, with what its words need. */
export type Refuse<M> = <C extends keyof M & string>(code: C, ...about: About<M[C]>) => Problem;

const known = new Map<string, Refusal['status']>();

/** All refusals there are: the `type` of the problem and its status. */
export const knownRefusals: ReadonlyMap<string, Refusal['status']> = known;

/** `capability` and code are the problem's `type` and stay what they are; the words may be bettered. */
export function refusalsOf<const M extends Readonly<Record<string, Refusal>>>(
  capability: string,
  map: M,
): Refuse<M> {
  const typeOf = (code: string): string => `/problems/${capability}/${code}`;
  for (const [code, { status }] of Object.entries(map)) known.set(typeOf(code), status);
  return (code, ...about) => {
    const { status, words, at } = map[code] as Refusal;
    const detail = typeof words === 'string' ? words : words(...(about as never[]));
    const problem = new Problem(status, typeOf(code), detail);
    return at === undefined ? problem : problem.about(at);
  };
}

/** What every capability may meet. */
export const refuse = refusalsOf('any', {
  'not-found': {
    status: 404,
    words: (what: string) => `There is no such ${what}, or it was deleted.`,
  },
  'changed-meanwhile': {
    status: 409,
    words: (what: string) =>
      `This ${what} was changed elsewhere in the meantime. Nothing is lost: both states are here.`,
  },
  'no-such-page': {
    status: 400,
    words: 'This part of the list can’t be found. Go back to the first one.',
  },
  'session-ended': {
    status: 401,
    words: 'Your session has ended. Sign in again; what you typed is still here.',
  },
  'not-our-pages': { status: 403, words: 'This request did not come from Palabra’s own pages.' },
  'not-allowed': {
    status: 403,
    words: (role: string | undefined) =>
      `${role ? `As ${role} you` : 'You'} may not do that; a coordinator can.`,
  },
  'wrong-password': {
    status: 401,
    words: 'Address and password don’t belong together. Check both.',
  },
  'link-used': {
    status: 404,
    words:
      'This link was used already, or its time is over. Ask a coordinator for a new one, or use “Forgot the password?” at the sign-in.',
  },
  'present-password': {
    status: 422,
    words: 'The present password is not right.',
    at: 'current',
  },
  'wrong-code': {
    status: 422,
    words:
      'This is not the code that Palabra printed when it was started. It stands where the program runs.',
    at: 'code',
  },
  'too-many-tries': {
    status: 429,
    words: 'Too many tries. Wait a quarter of an hour, then try again.',
  },
  'too-many-at-once': {
    status: 503,
    words: 'Too many want this at the same moment. Try again in a few seconds.',
  },
  'too-many-streams': {
    status: 429,
    words: (open: number) =>
      `Progress is being followed in ${open} places already. Close some of them.`,
  },
  'empty-file': { status: 400, words: 'The file is empty.' },
  'large-file': {
    status: 413,
    words: (megabytes: number) => `This file is larger than ${megabytes} MB.`,
  },
  'not-json': { status: 400, words: 'The request is not readable JSON.' },
  'no-object': { status: 400, words: 'The request must be a JSON object.' },
  'too-deep': {
    status: 400,
    words: (levels: number) => `The request is nested deeper than ${levels} levels.`,
  },
  'too-many-fields': {
    status: 400,
    words: (most: number) => `A part of the request has more than ${most} fields.`,
  },
  'too-long-a-list': {
    status: 400,
    words: (most: number) =>
      `A list in the request has more than ${most} entries. Send it in parts.`,
  },
  'too-many-parts': {
    status: 400,
    words: (most: number) => `The request has more than ${most} parts.`,
  },
  'too-many-marks': {
    status: 400,
    words: (most: number) =>
      `In a text, a letter carries more than ${most} accents or other marks. Take them out.`,
  },
});

export const notFound = (what: string): Problem => refuse('not-found', what);
export const conflict = (what: string, current: unknown): Problem =>
  refuse('changed-meanwhile', what).with({ current });
