// What happened since a campaign began to go out: the latest of the office, or a given one.
import { fail, ok, unreachable, type Result } from '../../kernel/index.js';
import { nobody, oneByOne, whoseKeyIn } from '../fragment.js';
import type { CampaignInRule, ConditionKind, RuleContext } from './kind.js';
import { momentWords } from './words.js';

export const sinceDeeds = ['came in', 'tagged', 'changed'] as const;
export type SinceDeed = (typeof sinceDeeds)[number];

export interface SinceCondition {
  readonly kind: 'since';
  readonly did: SinceDeed;
  readonly campaign: 'latest' | number;
  /** Any of these, of a tagging; left out, any tag at all. None is not finished. */
  readonly tags?: readonly number[];
}

const campaignOf = (
  { campaign }: SinceCondition,
  { campaigns }: RuleContext,
): CampaignInRule | undefined =>
  campaign === 'latest' ? campaigns[0] : campaigns.find(({ id }) => id === campaign);

/** When somebody was tagged last with one of the tags that are asked for, and still has it. */
function taggedAt(
  { tags }: SinceCondition,
  facts: { readonly tags: ReadonlySet<number>; readonly tagPutOn: ReadonlyMap<number, number> },
): number | undefined {
  const times = [...facts.tagPutOn].flatMap(([tag, at]) =>
    facts.tags.has(tag) && (tags === undefined || tags.includes(tag)) ? [at] : [],
  );
  return times.length === 0 ? undefined : Math.max(...times);
}

export const since: ConditionKind<SinceCondition, 'moments' | 'tags' | 'tagPutOn'> = {
  needs: ({ did }) => (did === 'tagged' ? ['tags', 'tagPutOn'] : ['moments']),

  parse(raw, context): Result<SinceCondition, string> {
    const did = sinceDeeds.find((one) => one === raw['did']);
    if (!did) return fail('what happened since the campaign is not known.');
    const { campaign, tags } = raw;
    const known =
      campaign === 'latest' ? campaign : context.campaigns.find(({ id }) => id === campaign)?.id;
    if (known === undefined)
      return fail('its campaign has not gone out, or is gone. Choose another.');
    const base = { kind: 'since', did, campaign: known } as const;
    if (did !== 'tagged' || tags === undefined || tags === null) return ok(base);
    if (!Array.isArray(tags) || tags.length > 100)
      return fail('the tags must be a list of at most 100.');
    if (!tags.every((tag): tag is number => context.tags.some(({ id }) => id === tag)))
      return fail('one of its tags no longer exists. Take it out or choose another.');
    return ok({ ...base, tags: [...new Set(tags)] });
  },

  finished: ({ tags }) => tags === undefined || tags.length > 0,
  weight: () => 1,

  compile(condition, context) {
    const campaign = campaignOf(condition, context);
    // Before the first campaign nothing happened since one.
    if (!campaign) return nobody;
    const from = { param: new Date(campaign.at).toISOString(), type: 'timestamptz' } as const;
    const { did, tags } = condition;
    switch (did) {
      case 'came in':
        return [{ ref: { of: 'moment', field: 'came_in' } }, ' >= ', from];
      case 'changed':
        return [{ ref: { of: 'moment', field: 'changed' } }, ' >= ', from];
      case 'tagged':
        return oneByOne(
          whoseKeyIn([
            { ref: { of: 'tag put on' } },
            ' where at >= ',
            from,
            ...(tags === undefined
              ? []
              : [' and tag_id = any(', { param: tags, type: 'int[]' } as const, ')']),
          ]),
        );
      default:
        return unreachable(did);
    }
  },

  holds(condition, facts, context) {
    const campaign = campaignOf(condition, context);
    if (!campaign) return false;
    switch (condition.did) {
      case 'came in':
        return facts.moments.cameIn >= campaign.at;
      case 'changed':
        return facts.moments.changed >= campaign.at;
      case 'tagged':
        return (taggedAt(condition, facts) ?? -Infinity) >= campaign.at;
      default:
        return unreachable(condition.did);
    }
  },

  saw(condition, facts, context) {
    switch (condition.did) {
      case 'came in':
        return `came in on ${momentWords(facts.moments.cameIn, context)}`;
      case 'changed':
        return `changed on ${momentWords(facts.moments.changed, context)}`;
      case 'tagged': {
        const at = taggedAt(condition, facts);
        return at === undefined ? 'not tagged' : `tagged on ${momentWords(at, context)}`;
      }
      default:
        return unreachable(condition.did);
    }
  },

  words(condition, context) {
    const { did, tags = [] } = condition;
    const campaign = campaignOf(condition, context);
    const names = tags.map(
      (tag) => context.tags.find(({ id }) => id === tag)?.name ?? 'a tag that is gone',
    );
    const named = campaign
      ? `${campaign.name}, ${momentWords(campaign.at, context)}`
      : condition.campaign === 'latest'
        ? 'none has gone out yet'
        : 'a campaign that is gone';
    return [
      { text: { 'came in': 'who came in', tagged: 'tagged', changed: 'who were changed' }[did] },
      ...(names.length === 0 ? [] : [{ text: ' ' }, { text: names.join(' or '), strong: true }]),
      { text: condition.campaign === 'latest' ? ' since the latest campaign (' : ' since ' },
      { text: named, strong: true },
      ...(condition.campaign === 'latest' ? [{ text: ')' }] : []),
    ];
  },
};
