// Bodies of requests. What comes from outside is counted before anything reads it: the libraries behind
// take time that grows with the square of an object's keys.
import { hasLongRun, MOST_MARKS } from '@palabra/core/kernel';
import express, {
  type NextFunction,
  type Request,
  type RequestHandler,
  type Response,
} from 'express';
import { refuse } from './refusals.js';

const LIMITS = {
  /** Deeper than any rule or letter; parsers and validators downstream work recursively. */
  depth: 64,
  /** More keys than a person can have fields. */
  keys: 500,
  /** More than the texts that a rule can compare with, so that the rule itself says so. */
  items: 25_000,
  values: 60_000,
} as const;

const [QUOTE, COMMA, BRACE, BRACKET, BACKSLASH] = [0x22, 0x2c, 0x7b, 0x5b, 0x5c];

/** Reads a JSON text once, sign by sign, and refuses what is deeper or wider than anything we ask for. */
export function refuseShape(body: Buffer): void {
  const open: { readonly isObject: boolean; count: number }[] = [];
  let values = 0;
  let inText = false;
  for (let at = 0; at < body.length; at++) {
    const sign = body[at];
    if (inText) {
      if (sign === BACKSLASH) at++;
      else if (sign === QUOTE) inText = false;
      continue;
    }
    if (sign === QUOTE) inText = true;
    else if (sign === BRACE || sign === BRACKET) {
      open.push({ isObject: sign === BRACE, count: 1 });
      if (open.length > LIMITS.depth) throw refuse('too-deep', LIMITS.depth);
      values++;
    } else if (sign === 0x7d || sign === 0x5d) open.pop();
    else if (sign === COMMA) {
      const inner = open.at(-1);
      if (!inner) continue;
      inner.count++;
      if (inner.isObject && inner.count > LIMITS.keys) throw refuse('too-many-fields', LIMITS.keys);
      if (inner.count > LIMITS.items) throw refuse('too-long-a-list', LIMITS.items);
      values++;
    }
    if (values > LIMITS.values) throw refuse('too-many-parts', LIMITS.values);
  }
}

/** Refuses texts that would be slow to compare; as deep and wide as what was counted. */
function refuseMarks(value: unknown): void {
  if (typeof value === 'string') {
    if (hasLongRun(value)) throw refuse('too-many-marks', MOST_MARKS);
  } else if (Array.isArray(value)) for (const part of value) refuseMarks(part);
  else if (typeof value === 'object' && value !== null)
    for (const [key, part] of Object.entries(value)) {
      refuseMarks(key);
      refuseMarks(part);
    }
}

function parseJson(body: Buffer): object {
  refuseShape(body);
  let value: unknown;
  try {
    value = JSON.parse(body.toString('utf8'));
  } catch {
    throw refuse('not-json');
  }
  refuseMarks(value);
  if (typeof value !== 'object' || value === null) throw refuse('no-object');
  return value;
}

const TYPE = 'application/json';
/** Nobody has to say much before they are known. */
const forStrangers = express.raw({ type: TYPE, limit: '16kb' });
const forMembers = express.raw({ type: TYPE, limit: '2mb' });

/** Makes the JSON body of a request its `body`; `isKnown` says whether somebody is signed in. */
export function jsonBody(isKnown: (request: Request) => boolean): RequestHandler {
  return (request: Request, response: Response, next: NextFunction) => {
    (isKnown(request) ? forMembers : forStrangers)(request, response, (error?: unknown) => {
      if (error) return next(error);
      const raw: unknown = request.body;
      if (!Buffer.isBuffer(raw)) return next();
      try {
        // An empty body is what a command without anything to say sends.
        request.body = raw.length === 0 ? {} : parseJson(raw);
        next();
      } catch (problem) {
        next(problem);
      }
    });
  };
}
