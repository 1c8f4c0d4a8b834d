// Whether somebody may be mailed, and why not.
import { standings, type Standing } from '../../contacts/index.js';
import { fail, ok, type Result } from '../../kernel/index.js';
import type { ConditionKind } from './kind.js';

export interface StandingCondition {
  readonly kind: 'standing';
  readonly any: readonly Standing[];
}

const words: Readonly<Record<Standing, string>> = {
  'may be mailed': 'who may be mailed',
  'no address': 'without an address',
  'do not mail': 'on do not mail',
  'no permission': 'without permission',
};

export const standing: ConditionKind<StandingCondition, 'standing'> = {
  needs: () => ['standing'],
  parse(raw): Result<StandingCondition, string> {
    const any = raw['any'];
    return Array.isArray(any) &&
      any.every((one): one is Standing => standings.includes(one as Standing))
      ? ok({ kind: 'standing', any: [...new Set(any)] })
      : fail('this standing is not known.');
  },
  finished: ({ any }) => any.length > 0,
  weight: () => 1,
  compile: ({ any }) => [
    { ref: { of: 'standing' } },
    ' = any(',
    { param: any, type: 'text[]' },
    ')',
  ],
  holds: ({ any }, facts) => any.includes(facts.standing),
  saw: (_, facts) => words[facts.standing].replace(/^who /, ''),
  words: ({ any }) =>
    any.flatMap((one, at) => [
      ...(at === 0 ? [] : [{ text: ' or ' }]),
      { text: words[one], strong: true },
    ]),
};
