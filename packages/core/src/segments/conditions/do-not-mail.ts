// Who is on do not mail: for which reasons, and since when.
import { doNotMailReasons, doNotMailWords } from '../../contacts/index.js';
import { fail, ok, type Result } from '../../kernel/index.js';
import { dayWords } from './words.js';
import { hashAmong } from '../fragment.js';
import { operands, spanFrom, spanWords, type Span } from './field/operand.js';
import type { ConditionKind } from './kind.js';

/** Of people who are there: who was erased is in no list. */
type Reason = (typeof doNotMailReasons)[number];

export interface DoNotMailCondition {
  readonly kind: 'do not mail';
  /** None means for any reason. */
  readonly reasons: readonly Reason[];
  /** Put there within so long; without it, at any time. */
  readonly within?: Span;
}

export const doNotMail: ConditionKind<DoNotMailCondition, 'doNotMail'> = {
  needs: () => ['doNotMail'],
  parse(raw): Result<DoNotMailCondition, string> {
    const { reasons, within } = raw;
    if (
      !Array.isArray(reasons) ||
      !reasons.every((one): one is Reason => doNotMailReasons.includes(one as Reason))
    )
      return fail('this reason for do not mail is not known.');
    const base = { kind: 'do not mail', reasons: [...new Set(reasons)] } as const;
    if (within === undefined || within === null) return ok(base);
    const span = operands.span.parse(within);
    return span.ok ? ok({ ...base, within: span.value }) : fail(`do not mail ${span.error}`);
  },
  finished: () => true,
  weight: () => 1,
  compile: ({ reasons, within }, { today }) =>
    hashAmong([
      { ref: { of: 'do not mail' } },
      ' where true',
      ...(reasons.length > 0
        ? [' and reason = any(', { param: reasons, type: 'text[]' } as const, ')']
        : []),
      ...(within
        ? [' and at >= ', { day: spanFrom(today, within, -1), edge: 'begins' } as const]
        : []),
    ]),
  holds: ({ reasons, within }, { doNotMail: own }, { today }) =>
    own !== null &&
    (reasons.length === 0 || reasons.some((reason) => reason === own.reason)) &&
    (within === undefined || own.on >= spanFrom(today, within, -1)),
  saw: (_, { doNotMail: own }) =>
    own === null
      ? 'not on do not mail'
      : `on do not mail since ${dayWords(own.on)}: ${doNotMailWords[own.reason]}`,
  words: ({ reasons, within }) => [
    { text: 'who are on ' },
    { text: 'do not mail', strong: true },
    ...(reasons.length === 0
      ? []
      : [
          { text: ' because ' },
          { text: reasons.map((reason) => doNotMailWords[reason]).join(' or '), strong: true },
        ]),
    ...(within
      ? [{ text: ' since ' }, { text: `${spanWords(within)} at most`, strong: true }]
      : []),
  ],
};
