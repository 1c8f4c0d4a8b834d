// Conditions on tags.
import { fail, ok, unreachable, type Result } from '../../kernel/index.js';
import { automaticTag } from '../../contacts/index.js';
import { join, negate, whoseKeyIn, type Fragment } from '../fragment.js';
import { operands, spanFrom, spanWords, type Span } from './field/operand.js';
import { dayOf, momentWords } from './words.js';
import type { ConditionKind, Phrase, RuleContext } from './kind.js';

export const tagOperators = ['has', 'has not', 'has any of', 'has all of', 'has none of'] as const;
export type TagOperator = (typeof tagOperators)[number];

export interface TagCondition {
  readonly kind: 'tag';
  readonly op: TagOperator;
  readonly tags: readonly number[];
  /** Only if it was put on within so long; where it is asked whether somebody has it. */
  readonly within?: Span;
}

/** Whether it can be asked how long ago the tag was put on. */
export const mayAskWhen = (op: TagOperator): boolean =>
  op === 'has' || op === 'has any of' || op === 'has all of';

const one = (tags: readonly number[]): Fragment => {
  const own = tags.filter((tag) => automaticTag(tag) === undefined);
  const automatic = tags.flatMap((tag) => automaticTag(tag) ?? []);
  return join(
    [
      ...(own.length === 0
        ? []
        : [
            whoseKeyIn([
              { ref: { of: 'tag' } },
              ' where tag_id = any(',
              { param: own, type: 'int[]' },
              ')',
            ]),
          ]),
      ...automatic.map((tag): Fragment => [{ ref: { of: 'automatic tag', tag } }]),
    ],
    ' or ',
  );
};

const putOnSince = (tags: readonly number[], day: string): Fragment =>
  whoseKeyIn([
    { ref: { of: 'tag put on' } },
    ' where tag_id = any(',
    { param: tags, type: 'int[]' },
    ') and at >= ',
    { day, edge: 'begins' },
  ]);

export const tag: ConditionKind<TagCondition, 'tags' | 'tagPutOn'> = {
  needs: () => ['tags', 'tagPutOn'],

  parse(raw, context): Result<TagCondition, string> {
    const op = tagOperators.find((word) => word === raw['op']);
    if (!op) return fail('this way of asking for a tag is not known.');
    const tags = raw['tags'];
    if (
      !Array.isArray(tags) ||
      tags.length > 100 ||
      !tags.every((tag): tag is number => typeof tag === 'number')
    )
      return fail('the tags must be a list of at most 100.');
    const missing = tags.find((tag) => !context.tags.some((known) => known.id === tag));
    if (missing !== undefined)
      return fail('one of its tags no longer exists. Take it out or choose another.');
    const base = { kind: 'tag', op, tags: [...new Set(tags)] } as const;
    const { within } = raw;
    if (within === undefined || within === null || !mayAskWhen(op)) return ok(base);
    const span = operands.span.parse(within);
    return span.ok ? ok({ ...base, within: span.value }) : fail(`the tag ${span.error}`);
  },

  finished: ({ tags }) => tags.length > 0,

  weight: ({ op, tags }) => (op === 'has all of' ? Math.max(1, tags.length) : 1),

  compile({ op, tags, within }, { today }) {
    const each = (some: readonly number[]): Fragment =>
      within ? putOnSince(some, spanFrom(today, within, -1)) : one(some);
    switch (op) {
      case 'has':
      case 'has any of':
        return each(tags);
      case 'has not':
      case 'has none of':
        return negate(one(tags));
      case 'has all of':
        return join(
          tags.map((tag) => each([tag])),
          ' and ',
        );
      default:
        return unreachable(op);
    }
  },

  holds({ op, tags, within }, facts, context) {
    const { today } = context;
    const putOn = (tag: number): string => {
      const at = facts.tagPutOn.get(tag);
      return at === undefined ? '' : dayOf(at, context);
    };
    const has = (tag: number): boolean =>
      facts.tags.has(tag) && (within === undefined || putOn(tag) >= spanFrom(today, within, -1));
    switch (op) {
      case 'has':
      case 'has any of':
        return tags.some(has);
      case 'has not':
      case 'has none of':
        return !tags.some((tag) => facts.tags.has(tag));
      case 'has all of':
        return tags.every(has);
      default:
        return unreachable(op);
    }
  },

  saw({ tags }, facts, context) {
    const own = tags.filter((one) => facts.tags.has(one));
    if (own.length === 0) return tags.length === 1 ? 'does not have it' : 'has none of them';
    return `has ${own
      .map((one) => {
        const at = facts.tagPutOn.get(one);
        return `${nameOf(one, context)}${at === undefined ? '' : `, put on ${momentWords(at, context)}`}`;
      })
      .join('; ')}`;
  },

  words({ op, tags, within }, context) {
    const link = op === 'has all of' ? ' and ' : ' or ';
    const not = op === 'has not' || op === 'has none of';
    return [
      { text: not ? 'not tagged ' : 'tagged ' },
      ...names(tags, context, link),
      ...(within
        ? [{ text: ' within ' }, { text: `the last ${spanWords(within)}`, strong: true }]
        : []),
    ];
  },
};

const nameOf = (tag: number, context: RuleContext): string =>
  context.tags.find((known) => known.id === tag)?.name ?? 'a tag that is gone';

function names(tags: readonly number[], context: RuleContext, link: string): Phrase[] {
  return tags.flatMap((tag, at) => {
    const name: Phrase = {
      text: nameOf(tag, context),
      strong: true,
    };
    return at === 0 ? [name] : [{ text: link }, name];
  });
}
