// What became of letters to somebody: of which campaigns, and in how many of them. Always counted in letters, one to a
// person and campaign; opened five times, it is one letter that was opened.
import { fail, ok, unreachable, type Result } from '../../kernel/index.js';
import { negate, nobody, oneByOne, whoseKeyIn, type Fragment, type Piece } from '../fragment.js';
import { isKept, isRecent, letterDeeds, type LetterDeed } from './letter-deeds.js';
import { operands, spanFrom } from './field/operand.js';
import {
  letterScopes,
  LETTERS_LAST,
  lettersWhose,
  mayCountMachines,
  type HowMany,
  type LetterCondition,
  type LettersOf,
} from './letter-condition.js';
import { becameOf, letterWords } from './letter-words.js';
import type { CampaignInRule, ConditionKind, LetterFact, RuleContext } from './kind.js';
import { counted, dayOf } from './words.js';

const LIMITS = { campaigns: 100, letters: 1000, text: 200 } as const;

const isWhole = (raw: unknown, least: number, most: number): raw is number =>
  typeof raw === 'number' && Number.isInteger(raw) && raw >= least && raw <= most;
const isObject = (raw: unknown): raw is Record<string, unknown> =>
  typeof raw === 'object' && raw !== null;

function readOf(raw: unknown, { campaigns }: RuleContext): Result<LettersOf, string> {
  const { in: scope, ...said } = isObject(raw) ? raw : { in: undefined };
  const known = letterScopes.find((one) => one === scope);
  if (!known) return fail('which letters are looked at is not said.');
  const isThere = (id: unknown): id is number => campaigns.some((one) => one.id === id);
  const gone = 'one of its campaigns has not gone out, or is gone. Choose another.';
  switch (known) {
    case 'these': {
      const ids = (said as { campaigns?: unknown }).campaigns;
      if (!Array.isArray(ids) || ids.length > LIMITS.campaigns)
        return fail(`its campaigns must be a list of at most ${LIMITS.campaigns}.`);
      return ids.every(isThere) ? ok({ in: known, campaigns: [...new Set(ids)] }) : fail(gone);
    }
    case 'last': {
      const { count, whose } = said as { count?: unknown; whose?: unknown };
      const kind = lettersWhose.find((one) => one === whose);
      return kind && isWhole(count, 1, LETTERS_LAST)
        ? ok({ in: known, count, whose: kind })
        : fail(`the last letters are 1 to ${LETTERS_LAST} of the office, or that they were sent.`);
    }
    case 'lately': {
      const span = operands.span.parse((said as { within?: unknown }).within);
      return span.ok ? ok({ in: known, within: span.value }) : fail(`the letter ${span.error}`);
    }
    case 'since': {
      const { campaign } = said as { campaign?: unknown };
      if (campaign === undefined || campaign === null) return ok({ in: known });
      return isThere(campaign) ? ok({ in: known, campaign }) : fail(gone);
    }
    case 'ever':
      return ok({ in: known });
    default:
      return unreachable(known);
  }
}

function readMany(raw: unknown): HowMany | undefined {
  if (raw === 'any' || raw === 'all' || raw === 'none') return raw;
  if (!isObject(raw)) return undefined;
  const { atLeast, atMost } = raw;
  if (isWhole(atLeast, 1, LIMITS.letters)) return { atLeast };
  return isWhole(atMost, 0, LIMITS.letters) ? { atMost } : undefined;
}

/** The campaigns whose letters are looked at; undefined where each person has their own. */
function campaignsOf(of: LettersOf, context: RuleContext): readonly CampaignInRule[] | undefined {
  const { campaigns } = context;
  switch (of.in) {
    case 'these':
      return campaigns.filter(({ id }) => of.campaigns.includes(id));
    case 'last':
      return of.whose === 'of the office' ? campaigns.slice(0, of.count) : undefined;
    case 'lately': {
      const from = spanFrom(context.today, of.within, -1);
      return campaigns.filter(({ at }) => dayOf(at, context) >= from);
    }
    case 'since': {
      // They stand the latest first.
      const place = campaigns.findIndex(({ id }) => id === of.campaign);
      return campaigns.slice(0, place + 1);
    }
    case 'ever':
      return campaigns;
  }
}

/** How many letters must be so, and may at most be; `of` is how many are looked at. Nobody is in where none is looked at and all must be so. */
function bounds(many: HowMany, of: number): { readonly least: number; readonly most: number } {
  switch (many) {
    case 'any':
      return { least: 1, most: Infinity };
    case 'all':
      return { least: Math.max(1, of), most: Infinity };
    case 'none':
      return { least: 0, most: 0 };
    default:
      return 'atLeast' in many
        ? { least: many.atLeast, most: Infinity }
        : { least: 0, most: many.atMost };
  }
}

/** Of all but these there are many to a campaign. */
const isRare = (did: LetterDeed): boolean =>
  did === 'bounced' || did === 'replied' || did === 'left';

/** Addresses of links are compared without regard to case. */
const folded = (text: string): string => text.toLowerCase();

/** The links that a condition asks for, by campaign and number; undefined where any click counts. */
function linksOf(
  { did, link }: LetterCondition,
  campaigns: readonly CampaignInRule[],
): readonly (readonly [campaign: number, link: number])[] | undefined {
  if (did !== 'clicked' || link === undefined) return undefined;
  if ('number' in link) return campaigns.map(({ id }) => [id, link.number]);
  const wanted = folded(link.contains.trim());
  return campaigns.flatMap(({ id, links }) =>
    links.flatMap((url, number) => (folded(url).includes(wanted) ? [[id, number] as const] : [])),
  );
}

const hitsAtLeast = (letters: Fragment, least: number): Fragment =>
  whoseKeyIn(
    least <= 1
      ? letters
      : [...letters, ' group by contact_id having count(*) >= ', { param: least, type: 'int' }],
  );

/** Whether one letter is so. */
function isSo(
  condition: LetterCondition,
  fact: LetterFact,
  links: readonly (readonly [number, number])[] | undefined,
): boolean {
  const machines = condition.machines === true;
  switch (condition.did) {
    case 'sent':
      return fact.sent !== null;
    case 'delivered':
      return fact.delivered;
    case 'opened':
      return fact.opened !== null || (machines && fact.machineOpened);
    case 'not opened':
      return fact.delivered && fact.opened === null && !(machines && fact.machineOpened);
    case 'clicked':
      if (links)
        return links.some(
          ([campaign, link]) =>
            campaign === fact.campaign &&
            (fact.links.includes(link) || (machines && fact.machineLinks.includes(link))),
        );
      return fact.clicked !== null || (machines && fact.machineClicked);
    case 'bounced':
      return fact.bounced !== null;
    case 'replied':
      return fact.replied !== null;
    case 'left':
      return fact.left !== null;
    default:
      return unreachable(condition.did);
  }
}

/** The latest that somebody was sent, the latest first. */
const theirLast = (letters: readonly LetterFact[], count: number): readonly LetterFact[] =>
  letters
    .filter(({ sent }) => sent !== null)
    .sort((a, b) => (b.sent ?? 0) - (a.sent ?? 0) || b.campaign - a.campaign)
    .slice(0, count);

/** The letters of somebody that a condition looks at, how many there are to be looked at, and those that are so. */
function looked(
  condition: LetterCondition,
  letters: readonly LetterFact[],
  context: RuleContext,
): { readonly of: number; readonly among: readonly LetterFact[]; readonly so: LetterFact[] } {
  const of = condition.letters;
  const campaigns = campaignsOf(of, context);
  const among = campaigns
    ? letters.filter(({ campaign }) => campaigns.some(({ id }) => id === campaign))
    : theirLast(letters, of.in === 'last' ? of.count : 0);
  const links = linksOf(condition, campaigns ?? context.campaigns);
  return {
    of: campaigns?.length ?? among.length,
    among,
    so: among.filter((fact) => isSo(condition, fact, links)),
  };
}

export const letter: ConditionKind<LetterCondition, 'letters'> = {
  needs: () => ['letters'],

  parse(raw, context): Result<LetterCondition, string> {
    const did = letterDeeds.find((one) => one === raw['did']);
    if (!did) return fail('what became of the letter is not known.');
    const of = readOf(raw['letters'], context);
    if (!of.ok) return of;
    const many = readMany(raw['many']);
    if (many === undefined)
      return fail(
        `how many letters: any, all, none, at least 1 to ${LIMITS.letters} or at most so many.`,
      );
    const machines = raw['machines'] === true && mayCountMachines(did);
    const base: LetterCondition = {
      kind: 'letter',
      did,
      letters: of.value,
      many,
      ...(machines ? { machines } : {}),
    };
    const { link } = raw;
    if (did !== 'clicked' || link === undefined || link === null) return ok(base);
    if (!isObject(link))
      return fail('the link is named by its number, or by a part of its address.');
    const { number, contains } = link;
    if (typeof contains === 'string' && contains.length <= LIMITS.text)
      return ok({ ...base, link: { contains } });
    const only = of.value.in === 'these' && of.value.campaigns.length === 1;
    return only && isWhole(number, 0, 9999)
      ? ok({ ...base, link: { number } })
      : fail('a link is named by a part of its address, or by its number in one campaign.');
  },

  finished: ({ letters: of, link }) =>
    (of.in !== 'these' || of.campaigns.length > 0) &&
    (of.in !== 'since' || of.campaign !== undefined) &&
    (link === undefined || !('contains' in link) || link.contains.trim() !== ''),

  weight({ did, letters: of, machines, link }) {
    // What is not kept of the last letters of each person is looked up one person after another.
    if (of.in === 'last' && of.whose === 'that they were sent')
      return !isRecent(did) || machines || link ? 60 : 3;
    return isRare(did) ? 1 : 3;
  },

  compile(condition, context) {
    const { letters: of, did, many } = condition;
    const machines = condition.machines === true;
    const campaigns = campaignsOf(of, context);
    const links = linksOf(condition, campaigns ?? context.campaigns);
    if (campaigns === undefined) {
      const count = of.in === 'last' ? of.count : 0;
      const theirs = (are: 'so' | 'not so'): Piece => ({
        ref: { of: 'their letters', are, count, did, machines, ...(links ? { links } : {}) },
      });
      if (many === 'all') return ['(', theirs('so'), ' > 0 and ', theirs('not so'), ' = 0)'];
      const { least, most } = bounds(many, 0);
      return most === Infinity
        ? [theirs('so'), ' >= ', { param: least, type: 'int' }]
        : [theirs('so'), ' <= ', { param: most, type: 'int' }];
    }
    const { least, most } = bounds(many, campaigns.length);
    if (least > campaigns.length) return nobody;
    // Of all letters ever it is kept with the person how many they opened and clicked.
    if (of.in === 'ever' && !machines && !links && isKept(did)) {
      const soFar = { ref: { of: 'letters so far', did } } as const;
      return most === Infinity
        ? [soFar, ' >= ', { param: least, type: 'int' }]
        : [soFar, ' <= ', { param: most, type: 'int' }];
    }
    const letters: Fragment = [
      {
        ref: {
          of: 'letters',
          did,
          machines,
          campaigns: campaigns.map(({ id }) => id),
          ...(links ? { links } : {}),
        },
      },
    ];
    const found =
      most === Infinity ? hitsAtLeast(letters, least) : negate(hitsAtLeast(letters, most + 1));
    return isRare(did) ? found : oneByOne(found);
  },

  holds(condition, { letters }, context) {
    const { of, so } = looked(condition, letters, context);
    const { least, most } = bounds(condition.many, of);
    return so.length >= least && so.length <= most;
  },

  saw(condition, { letters }, context) {
    const { among, so } = looked(condition, letters, context);
    const name = (id: number): string =>
      context.campaigns.find((one) => one.id === id)?.name ?? 'a campaign';
    const [first, ...others] = so;
    if (!first) {
      const [only, ...more] = among;
      if (!only) return 'was sent none of these letters';
      return more.length === 0
        ? `${name(only.campaign)}: ${becameOf(only, context)}`
        : `so with none of ${counted(among.length, 'letter')} to them`;
    }
    const rest = others.length === 0 ? '' : `, and ${counted(others.length, 'letter')} more`;
    return `${name(first.campaign)}: ${becameOf(first, context, condition.did)}${rest}`;
  },

  words: letterWords,
};
