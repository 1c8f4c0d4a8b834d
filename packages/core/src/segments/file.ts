// A segment as a file: its rule with the names of what it asks for, so that another office can read it. The format is
// described in docs/segment-file.md and by the schema beside it.
import { fail, ok, unreachable, type Result } from '../kernel/index.js';
import { automaticTag, searchKey, tagKey } from '../contacts/index.js';
import type { Condition } from './conditions/index.js';
import type { RuleContext } from './conditions/kind.js';
import { isGroup, parseRule, type Rule, type RuleNode } from './rule.js';

export const SEGMENT_FILE = 'segment';
export const SEGMENT_FILE_VERSION = 1;

/** What a rule names by keys that are this office's own; each key with its name. */
const namedThings = [
  'fields',
  'tags',
  'topics',
  'campaigns',
  'segments',
  'pools',
  'choices',
] as const;
type NamedThing = (typeof namedThings)[number];
type Names = { readonly [T in NamedThing]: Readonly<Record<string, string>> };

export interface SegmentFile {
  readonly palabra: typeof SEGMENT_FILE;
  readonly version: typeof SEGMENT_FILE_VERSION;
  readonly name: string;
  readonly description: string;
  readonly labels: readonly string[];
  readonly pools: readonly string[];
  readonly rule: Rule;
  readonly names: Names;
  /** The mark of the office that wrote it: read there, keys mean what they meant. */
  readonly office: string;
  /** When the first letter of each campaign was handed over (ISO 8601): several may be of one name. */
  readonly dates: { readonly campaigns: Readonly<Record<string, string>> };
}

/** What a key becomes; what is not there is noted by whoever carries, and stays as it is. */
type Carry = <K extends string | number>(thing: NamedThing, key: K) => K;

/** Choices are named by their field, too: `stage guest`. */
const choiceKey = (field: string, choice: string): string => `${field} ${choice}`;

/** A condition with every key carried over. */
function carried(condition: Condition, carry: Carry): Condition {
  const all = <K extends string | number>(thing: NamedThing, keys: readonly K[]): K[] =>
    keys.map((key) => carry(thing, key));
  switch (condition.kind) {
    case 'field': {
      const { field, value } = condition;
      const choice = (one: string): string =>
        carry('choices', choiceKey(field, one)).slice(field.length + 1);
      return {
        ...condition,
        field: carry('fields', field),
        ...(Array.isArray(value) && value.every((one) => typeof one === 'string')
          ? { value: value.map(choice) }
          : {}),
      };
    }
    case 'tag':
      return { ...condition, tags: all('tags', condition.tags) };
    case 'since':
      return {
        ...condition,
        campaign:
          condition.campaign === 'latest' ? 'latest' : carry('campaigns', condition.campaign),
        ...(condition.tags ? { tags: all('tags', condition.tags) } : {}),
      };
    case 'topic':
      return { ...condition, topics: all('topics', condition.topics) };
    case 'letter': {
      const { letters } = condition;
      if (letters.in === 'these')
        return {
          ...condition,
          letters: { ...letters, campaigns: all('campaigns', letters.campaigns) },
        };
      return letters.in === 'since' && letters.campaign !== undefined
        ? { ...condition, letters: { ...letters, campaign: carry('campaigns', letters.campaign) } }
        : condition;
    }
    case 'segment':
      return condition.segment === undefined
        ? condition
        : { ...condition, segment: carry('segments', condition.segment) };
    case 'standing':
    case 'do not mail':
    case 'rating':
    case 'place':
    case 'everybody':
      return condition;
    default:
      return unreachable(condition);
  }
}

function walked(rule: Rule, carry: Carry): Rule {
  const walk = <N extends RuleNode>(node: N): N =>
    isGroup(node) ? { ...node, items: node.items.map(walk) } : (carried(node, carry) as N);
  return { ...rule, root: walk(rule.root) };
}

export interface FileWords extends Pick<
  RuleContext,
  'fields' | 'tags' | 'topics' | 'campaigns' | 'segments'
> {
  readonly pools: readonly { readonly id: number; readonly name: string }[];
  /** Of this office, and of no other. */
  readonly office: string;
}

/** What is called how, of one kind of thing. */
function called(thing: NamedThing, words: FileWords): ReadonlyMap<string, string> {
  if (thing === 'fields') return new Map(words.fields.map(({ key, label }) => [key, label]));
  if (thing === 'choices')
    return new Map(
      words.fields.flatMap(({ key, choices = [] }) =>
        choices.map((choice) => [choiceKey(key, choice.key), choice.label] as const),
      ),
    );
  return new Map(words[thing].map(({ id, name }) => [String(id), name]));
}

export function segmentFile(
  segment: {
    readonly name: string;
    readonly description: string;
    readonly labels: readonly string[];
    /** None: any pool. */
    readonly pools: readonly string[];
    readonly rule: Rule;
  },
  words: FileWords,
): SegmentFile {
  const names: Record<NamedThing, Record<string, string>> = {
    fields: {},
    tags: {},
    topics: {},
    campaigns: {},
    segments: {},
    pools: {},
    choices: {},
  };
  const known = new Map(namedThings.map((thing) => [thing, called(thing, words)]));
  walked(segment.rule, (thing, key) => {
    const name = known.get(thing)?.get(String(key));
    if (name !== undefined) names[thing][String(key)] = name;
    return key;
  });
  return {
    palabra: SEGMENT_FILE,
    version: SEGMENT_FILE_VERSION,
    name: segment.name,
    description: segment.description,
    labels: segment.labels,
    pools: segment.pools,
    rule: segment.rule,
    names,
    office: words.office,
    dates: {
      campaigns: Object.fromEntries(
        words.campaigns.flatMap(({ id, at }) =>
          names.campaigns[String(id)] === undefined
            ? []
            : [[String(id), new Date(at).toISOString()]],
        ),
      ),
    },
  };
}

const isObject = (raw: unknown): raw is Record<string, unknown> =>
  typeof raw === 'object' && raw !== null && !Array.isArray(raw);

const singular: { readonly [T in NamedThing]: string } = {
  fields: 'field',
  tags: 'tag',
  topics: 'topic',
  campaigns: 'campaign that went out',
  segments: 'segment',
  pools: 'pool',
  choices: 'choice',
};

/** As the schema says. */
const LIMITS = {
  name: 120,
  description: 500,
  labels: 20,
  label: 40,
  pools: 50,
  pool: 120,
} as const;

const isText = (value: unknown, most: number): value is string =>
  typeof value === 'string' && value.length <= most;
const isListOf = (value: unknown, many: number, most: number): value is string[] =>
  Array.isArray(value) && value.length <= many && value.every((one) => isText(one, most));
const areTexts = (value: unknown): boolean =>
  isObject(value) && Object.values(value).every((one) => typeof one === 'string');

/** What of a file is not as its schema says; undefined where all is. */
function malformed(raw: Readonly<Record<string, unknown>>): string | undefined {
  const { name, description, labels, pools, names, office, dates } = raw;
  if (!isText(name, LIMITS.name) || name.trim() === '')
    return `The segment in the file has no name of 1 to ${LIMITS.name} signs.`;
  if (description !== undefined && !isText(description, LIMITS.description))
    return `The description in the file is no text of at most ${LIMITS.description} signs.`;
  if (labels !== undefined && !isListOf(labels, LIMITS.labels, LIMITS.label))
    return `The labels in the file are no list of at most ${LIMITS.labels}, of ${LIMITS.label} signs each.`;
  if (pools !== undefined && !isListOf(pools, LIMITS.pools, LIMITS.pool))
    return `The pools in the file are no list of at most ${LIMITS.pools} names.`;
  if (!isObject(names) || !Object.values(names).every(areTexts))
    return 'The names in the file are not given as texts by their keys.';
  if (office !== undefined && typeof office !== 'string')
    return 'The mark of the office in the file is no text.';
  if (dates !== undefined && !(isObject(dates) && Object.values(dates).every(areTexts)))
    return 'The dates in the file are not given as texts by their keys.';
  return undefined;
}

/** `several`: more than one thing here is called so, and none of them is more likely meant. */
type Looked = { readonly key: string } | 'nothing' | 'several';

/**
 * Reads a file. In the office that wrote it, keys mean what they meant; elsewhere, what its rule names is looked up by name,
 * campaigns by their date, too. The error says what is not there, and what is there more than once.
 */
export function readSegmentFile(
  raw: unknown,
  words: FileWords,
  context: RuleContext,
): Result<
  Omit<SegmentFile, 'names' | 'palabra' | 'version' | 'pools' | 'office' | 'dates'> & {
    /** None: any pool. Undefined where the file says nothing. */
    readonly pools: readonly number[] | undefined;
  },
  string
> {
  if (!isObject(raw) || raw['palabra'] !== SEGMENT_FILE)
    return fail('This file holds no segment of Palabra.');
  if (raw['version'] !== SEGMENT_FILE_VERSION)
    return fail('This file was written by a later version of Palabra, which this one can’t read.');
  const wrong = malformed(raw);
  if (wrong !== undefined) return fail(wrong);
  const {
    name,
    description = '',
    labels = [],
    pools,
    rule,
    names,
    dates = {},
  } = raw as {
    readonly name: string;
    readonly description?: string;
    readonly labels?: readonly string[];
    readonly pools?: readonly string[];
    readonly rule?: unknown;
    readonly names: Readonly<Record<string, Readonly<Record<string, string>>>>;
    readonly dates?: Readonly<Record<string, Readonly<Record<string, string>>>>;
  };
  const isOwn = raw['office'] === words.office;
  const told = (of: typeof names, thing: string, key: string): string | undefined =>
    of[thing] && Object.hasOwn(of[thing], key) ? of[thing][key] : undefined;
  const known = new Map(namedThings.map((thing) => [thing, called(thing, words)]));
  const keysCalled = (thing: NamedThing, label: string): string[] =>
    [...(known.get(thing) ?? [])].flatMap(([key, own]) =>
      compared(thing, own) === compared(thing, label) ? [key] : [],
    );
  const byName = (thing: NamedThing, key: string): Looked => {
    const label = told(names, thing, key);
    let keys = label === undefined ? [] : keysCalled(thing, label);
    const date = told(dates, thing, key);
    if (thing === 'campaigns' && date !== undefined)
      keys = keys.filter((one) =>
        words.campaigns.some(({ id, at }) => String(id) === one && at === Date.parse(date)),
      );
    const [only, ...others] = keys;
    return only === undefined ? 'nothing' : others.length > 0 ? 'several' : { key: only };
  };
  const fieldOf = (key: string): string | undefined => {
    if (!key.startsWith('own_')) return key;
    if (isOwn && known.get('fields')?.has(key)) return key;
    const there = byName('fields', key);
    return typeof there === 'object' ? there.key : undefined;
  };
  const choiceOf = (key: string): Looked => {
    const [field = ''] = key.split(' ');
    const own = fieldOf(field) ?? '';
    const type = words.fields.find((one) => one.key === own)?.type;
    // Texts stand for themselves.
    if (type !== 'choice' && type !== 'choices') return { key };
    if (isOwn && known.get('choices')?.has(key)) return { key };
    const label = told(names, 'choices', key);
    const [only, ...others] = [...(known.get('choices') ?? [])].flatMap(([one, text]) =>
      label !== undefined &&
      one.startsWith(`${own} `) &&
      compared('choices', text) === compared('choices', label)
        ? [one.slice(own.length + 1)]
        : [],
    );
    if (only === undefined) return 'nothing';
    return others.length > 0 ? 'several' : { key: choiceKey(field, only) };
  };
  const look = (thing: NamedThing, key: string): Looked => {
    if (thing === 'choices') return choiceOf(key);
    if (thing === 'fields') {
      const own = fieldOf(key);
      return own === undefined ? byName('fields', key) : { key: own };
    }
    if (thing === 'tags' && automaticTag(Number(key)) !== undefined) return { key };
    return isOwn && known.get(thing)?.has(key) ? { key } : byName(thing, key);
  };
  const missing: string[] = [];
  const several: string[] = [];
  const carry: Carry = (thing, key) => {
    const there = look(thing, String(key));
    if (typeof there === 'object')
      return (typeof key === 'number' ? Number(there.key) : there.key) as typeof key;
    const label = (told(names, thing, String(key)) ?? String(key)).slice(0, 80);
    (there === 'several' ? several : missing).push(`the ${singular[thing]} “${label}”`);
    return key;
  };
  const poolIds = pools?.flatMap((pool) => {
    const [only, ...others] = keysCalled('pools', pool);
    if (only !== undefined && others.length === 0) return [Number(only)];
    (only === undefined ? missing : several).push(`the pool “${pool.slice(0, 80)}”`);
    return [];
  });
  const translated = translate(rule, carry);
  const some = (list: readonly string[]): string => [...new Set(list)].slice(0, 10).join(', ');
  if (missing.length > 0)
    return fail(
      `There is nothing here that is called so: ${some(missing)}. Make it first, or take it out of the file.`,
    );
  if (several.length > 0)
    return fail(
      `Here several are called so: ${some(several)}. Which is meant can’t be told; give one of them another name, here and in the file.`,
    );
  const read = parseRule(translated, context);
  if (!read.ok) return read;
  return ok({ name: name.trim(), description, labels, pools: poolIds, rule: read.value });
}

const compared = (thing: NamedThing, label: string): string =>
  thing === 'tags' ? tagKey(label) : searchKey(label);

/** Keys in a rule that was not read yet; what has another shape than a rule is left for the reader to refuse. */
function translate(raw: unknown, carry: Carry): unknown {
  const walk = (node: unknown, depth: number): unknown => {
    if (!isObject(node) || depth > 40) return node;
    if (Array.isArray(node['items']))
      return { ...node, items: node['items'].map((item) => walk(item, depth + 1)) };
    try {
      return carried(node as unknown as Condition, carry);
    } catch {
      // It has not the shape of what it says it is: the reader refuses it, with the place.
      return node;
    }
  };
  return isObject(raw) && isObject(raw['root']) ? { ...raw, root: walk(raw['root'], 0) } : raw;
}
