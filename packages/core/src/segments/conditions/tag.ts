// Conditions on tags.
import { fail, ok, unreachable, type Result } from '../../kernel/index.js';
import { join, negate, type Fragment } from '../fragment.js';
import type { ConditionKind, Phrase, RuleContext } from './kind.js';

export const tagOperators = ['has', 'has not', 'has any of', 'has all of', 'has none of'] as const;
export type TagOperator = (typeof tagOperators)[number];

export interface TagCondition {
  readonly kind: 'tag';
  readonly op: TagOperator;
  readonly tags: readonly number[];
}

const one = (tags: readonly number[]): Fragment => [
  { ref: { of: 'contact id' } },
  ' in (select contact_id from ',
  { ref: { of: 'tag' } },
  ' where tag_id = any(',
  { param: tags, type: 'int[]' },
  '))',
];

export const tag: ConditionKind<TagCondition, 'tags'> = {
  needs: ['tags'],

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
    return ok({ kind: 'tag', op, tags: [...new Set(tags)] });
  },

  finished: ({ tags }) => tags.length > 0,

  weight: ({ op, tags }) => (op === 'has all of' ? tags.length : 1),

  compile({ op, tags }) {
    switch (op) {
      case 'has':
      case 'has any of':
        return one(tags);
      case 'has not':
      case 'has none of':
        return negate(one(tags));
      case 'has all of':
        return join(
          tags.map((tag) => one([tag])),
          ' and ',
        );
      default:
        return unreachable(op);
    }
  },

  holds({ op, tags }, facts) {
    switch (op) {
      case 'has':
      case 'has any of':
        return tags.some((tag) => facts.tags.has(tag));
      case 'has not':
      case 'has none of':
        return !tags.some((tag) => facts.tags.has(tag));
      case 'has all of':
        return tags.every((tag) => facts.tags.has(tag));
      default:
        return unreachable(op);
    }
  },

  words({ op, tags }, context) {
    const link = op === 'has all of' ? ' and ' : ' or ';
    const not = op === 'has not' || op === 'has none of';
    return [{ text: not ? 'not tagged ' : 'tagged ' }, ...names(tags, context, link)];
  },
};

function names(tags: readonly number[], context: RuleContext, link: string): Phrase[] {
  return tags.flatMap((tag, at) => {
    const name: Phrase = {
      text: context.tags.find((known) => known.id === tag)?.name ?? 'a tag that is gone',
      strong: true,
    };
    return at === 0 ? [name] : [{ text: link }, name];
  });
}
