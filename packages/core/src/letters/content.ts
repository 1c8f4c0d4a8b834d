// What a letter consists of: subject, preview line and blocks.
import { fail, ok, type Result } from '../kernel/index.js';
import { emptyBlock, fieldsOf, parseBlock, withChildren, type Block } from './blocks/index.js';
import {
  isObject,
  lineFields,
  LIMITS,
  parseLine,
  Refusal,
  type Line,
  type PersonalField,
} from './text.js';

export interface LetterContent {
  readonly v: 1;
  readonly subject: Line;
  readonly preview: Line;
  readonly blocks: readonly Block[];
}

export const emptyLetter = (id: string): LetterContent => ({
  v: 1,
  subject: [],
  preview: [],
  blocks: [emptyBlock('footer', id)],
});

const hasDoubles = (ids: readonly string[]): boolean => new Set(ids).size !== ids.length;

/** Reads a letter from JSON, allowing only what a letter may hold. The error says what to change. */
export function parseLetter(raw: unknown): Result<LetterContent, string> {
  try {
    if (!isObject(raw) || raw['v'] !== 1)
      return fail('The letter is not of a version this program knows.');
    if (!Array.isArray(raw['blocks']) || raw['blocks'].length > LIMITS.blocks)
      return fail(`A letter has ${LIMITS.blocks} blocks at the most.`);
    const blocks = raw['blocks'].map(parseBlock);
    if (hasDoubles(withChildren(blocks).map(({ id }) => id)))
      return fail('Two blocks have the same id.');
    const footers = blocks.filter(({ kind }) => kind === 'footer').length;
    if (footers !== 1 || blocks.at(-1)?.kind !== 'footer')
      return fail('A letter ends with its footer, and has one.');
    return ok({
      v: 1,
      subject: parseLine(raw['subject'], 'The subject'),
      preview: parseLine(raw['preview'], 'The preview line'),
      blocks,
    });
  } catch (error) {
    if (error instanceof Refusal) return fail(error.message);
    throw error;
  }
}

/** All personal fields of a letter, wherever they stand. */
export const personalFieldsOf = (content: LetterContent): PersonalField[] => [
  ...lineFields(content.subject),
  ...lineFields(content.preview),
  ...withChildren(content.blocks).flatMap(fieldsOf),
];

/** Fields without words for who lacks them, each once. */
export const fieldsWithoutFallback = (content: LetterContent): string[] => [
  ...new Set(
    personalFieldsOf(content)
      .filter(({ fallback }) => fallback === '')
      .map(({ field }) => field),
  ),
];
