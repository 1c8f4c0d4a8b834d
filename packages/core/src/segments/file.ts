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

/** Reads a file; what its rule names is looked up by name here. The error says what is not there. */
export function readSegmentFile(
  raw: unknown,
  words: FileWords,
  context: RuleContext,
): Result<
  Omit<SegmentFile, 'names' | 'palabra' | 'version' | 'pools'> & {
    readonly pools: readonly number[];
  },
  string
> {
  if (!isObject(raw) || raw['palabra'] !== SEGMENT_FILE)
    return fail('This file holds no segment of Palabra.');
  if (raw['version'] !== SEGMENT_FILE_VERSION)
    return fail('This file was written by a later version of Palabra, which this one can’t read.');
  const { name, description, labels, pools, rule, names } = raw;
  if (typeof name !== 'string' || name.trim() === '' || name.length > 120)
    return fail('The segment in the file has no name of 1 to 120 signs.');
  const texts = (value: unknown, most: number): string[] =>
    Array.isArray(value)
      ? value
          .filter((one): one is string => typeof one === 'string' && one.length <= 120)
          .slice(0, most)
      : [];
  const told = isObject(names) ? names : {};
  const nameOf = (thing: NamedThing, key: string | number): string | undefined => {
    const of = told[thing];
    const found = isObject(of) && Object.hasOwn(of, String(key)) ? of[String(key)] : undefined;
    return typeof found === 'string' ? found : undefined;
  };
  const here = new Map(
    namedThings.map((thing) => [
      thing,
      new Map(
        [...called(thing, words)].map(([key, label]) => [
          thing === 'choices'
            ? `${key.split(' ')[0] ?? ''} ${searchKey(label)}`
            : compared(thing, label),
          key,
        ]),
      ),
    ]),
  );
  const missing: string[] = [];
  const fieldOf = (key: string): string | undefined =>
    key.startsWith('own_') ? here.get('fields')?.get(searchKey(nameOf('fields', key) ?? '')) : key;
  const found = (thing: NamedThing, key: string): string | undefined => {
    const label = nameOf(thing, key);
    if (thing === 'fields') return fieldOf(key);
    if (thing === 'tags' && automaticTag(Number(key)) !== undefined) return key;
    if (thing !== 'choices')
      return label === undefined ? undefined : here.get(thing)?.get(compared(thing, label));
    const [field = ''] = key.split(' ');
    const own = fieldOf(field);
    const type = words.fields.find((one) => one.key === own)?.type;
    // Texts stand for themselves.
    if (type !== 'choice' && type !== 'choices') return key;
    const there = here.get(thing)?.get(`${own ?? ''} ${searchKey(label ?? '')}`);
    return there === undefined ? undefined : choiceKey(field, there.slice(there.indexOf(' ') + 1));
  };
  const carry: Carry = (thing, key) => {
    const there = found(thing, String(key));
    if (there === undefined)
      missing.push(`the ${singular[thing]} “${(nameOf(thing, key) ?? String(key)).slice(0, 80)}”`);
    else return (typeof key === 'number' ? Number(there) : there) as typeof key;
    return key;
  };
  const translated = translate(rule, carry);
  if (missing.length > 0)
    return fail(
      `There is nothing here that is called so: ${[...new Set(missing)].slice(0, 10).join(', ')}. Make it first, or take it out of the file.`,
    );
  const read = parseRule(translated, context);
  if (!read.ok) return read;
  const poolIds = texts(pools, 50).flatMap(
    (pool) => words.pools.find((one) => searchKey(one.name) === searchKey(pool))?.id ?? [],
  );
  return ok({
    name: name.trim(),
    description: typeof description === 'string' ? description.slice(0, 500) : '',
    labels: texts(labels, 20).map((label) => label.slice(0, 40)),
    pools: poolIds,
    rule: read.value,
  });
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
