// What is asked of letters, and what became of one, in words.
import { spanWords } from './field/operand.js';
import type { HowMany, LetterCondition, LettersOf } from './letter-condition.js';
import type { LetterDeed } from './letter-deeds.js';
import type { LetterFact, Phrase, RuleContext } from './kind.js';
import { counted, momentWords } from './words.js';

export function letterWords(condition: LetterCondition, context: RuleContext): readonly Phrase[] {
  const { did, letters: of, many } = condition;
  const strong = (text: string): Phrase => ({ text, strong: true });
  const machines = condition.machines ? ', by machines, too' : '';
  const { verb, not } = verbs[did];
  const none = many === 'none';
  const which = lettersWords(condition, context);
  const isOne = of.in === 'these' && of.campaigns.length === 1;
  const quantity = isOne && typeof many === 'string' ? '' : quantityWords(many, of);
  return [
    { text: none ? `${not} ` : `${verb} ` },
    ...linkWords(condition, context),
    ...(quantity === '' ? [] : [strong(quantity), { text: ' ' }]),
    ...which,
    ...(machines === '' ? [] : [{ text: machines }]),
    ...(none && neverSentToo.has(did) ? [{ text: ' (or were never sent it)' }] : []),
  ];
}

/** Of these, who was never sent the letter is in where it must not be so: said, because “not opened” reads otherwise. */
const neverSentToo: ReadonlySet<LetterDeed> = new Set(['opened', 'clicked', 'delivered']);

const verbs: { readonly [D in LetterDeed]: { readonly verb: string; readonly not: string } } = {
  sent: { verb: 'who were sent', not: 'who were not sent' },
  delivered: { verb: 'who got', not: 'who did not get' },
  'not opened': { verb: 'who got and did not open', not: 'who did not leave unopened' },
  opened: { verb: 'who opened', not: 'who did not open' },
  clicked: { verb: 'who clicked in', not: 'who did not click in' },
  bounced: { verb: 'for whom there came back', not: 'for whom there did not come back' },
  replied: { verb: 'who replied to', not: 'who did not reply to' },
  left: { verb: 'who left by', not: 'who did not leave by' },
};

function quantityWords(many: HowMany, of: LettersOf): string {
  if (many === 'any' || many === 'none') return of.in === 'these' ? 'any of' : 'any';
  if (many === 'all') return of.in === 'these' ? 'all of' : 'all';
  return 'atLeast' in many
    ? `at least ${counted(many.atLeast, 'letter')} of`
    : `at most ${counted(many.atMost, 'letter')} of`;
}

function lettersWords(
  { letters: of, many }: LetterCondition,
  context: RuleContext,
): readonly Phrase[] {
  const strong = (text: string): Phrase => ({ text, strong: true });
  const name = (id: number | undefined): string =>
    context.campaigns.find((one) => one.id === id)?.name ?? 'a campaign that is gone';
  const [the, those] = typeof many === 'string' ? ['of the', 'letter'] : ['the', 'letters'];
  switch (of.in) {
    case 'these':
      return of.campaigns.length === 0
        ? [strong('…')]
        : of.campaigns.flatMap((id, at) => [
            ...(at === 0 ? [] : [{ text: at === of.campaigns.length - 1 ? ' and ' : ', ' }]),
            strong(name(id)),
          ]);
    case 'last':
      return [{ text: `${the} ` }, strong(`last ${counted(of.count, 'letter')} ${of.whose}`)];
    case 'lately':
      return [{ text: `${those} of ` }, strong(`the last ${spanWords(of.within)}`)];
    case 'since':
      return [
        { text: `${those} since ` },
        strong(of.campaign === undefined ? '…' : name(of.campaign)),
        { text: ', itself included' },
      ];
    case 'ever':
      return [{ text: typeof many === 'string' ? 'letter at all' : 'all letters' }];
  }
}

function linkWords(
  { link, letters: of, did }: LetterCondition,
  context: RuleContext,
): readonly Phrase[] {
  if (did !== 'clicked' || link === undefined) return [];
  const strong = (text: string): Phrase => ({ text, strong: true });
  if ('contains' in link)
    return [{ text: 'links with ' }, strong(`“${link.contains.trim()}”`), { text: ' in ' }];
  const [only] = of.in === 'these' ? of.campaigns : [];
  const url = context.campaigns.find(({ id }) => id === only)?.links[link.number];
  return [{ text: 'the link ' }, strong(url ?? `no. ${link.number + 1}`), { text: ' in ' }];
}

/** What became of one letter; the deed that was asked for first. */
export function becameOf(fact: LetterFact, context: RuleContext, asked?: LetterDeed): string {
  const when = (at: number): string => momentWords(at, context);
  const said: readonly (readonly [LetterDeed, string | undefined])[] = [
    ['clicked', fact.clicked === null ? undefined : `clicked on ${when(fact.clicked)}`],
    ['replied', fact.replied === null ? undefined : `replied on ${when(fact.replied)}`],
    ['left', fact.left === null ? undefined : `left on ${when(fact.left)}`],
    ['opened', fact.opened === null ? undefined : `opened on ${when(fact.opened)}`],
    ['bounced', fact.bounced === null ? undefined : `came back on ${when(fact.bounced)}`],
    [
      'not opened',
      fact.delivered && fact.opened === null
        ? `arrived, not opened${fact.machineOpened ? ' but by a machine' : ''}`
        : undefined,
    ],
    ['sent', fact.sent === null ? undefined : `sent on ${when(fact.sent)}`],
  ];
  const first = said.find(([deed, words]) => deed === asked && words !== undefined);
  return (first ?? said.find(([, words]) => words !== undefined))?.[1] ?? 'not sent';
}
