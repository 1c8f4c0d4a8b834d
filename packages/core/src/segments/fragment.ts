// Pieces of SQL without tables: text, parameters, and references to logical sources. The server binds them.
import type { AutomaticTag, MomentKey, NamedKey, SinceUnit } from '../contacts/index.js';
import type { KeptDeed, LetterDeed } from './conditions/letter-deeds.js';

type Links = readonly (readonly [campaign: number, link: number])[];

export type Reference =
  /** The search key of a text field, built in or own; null where the field is empty. */
  | { readonly of: 'key'; readonly field: string }
  /** All search keys of a contact as one JSON object, for containment. */
  | { readonly of: 'keys' }
  /** The digits of telephone numbers as they are written, a line for each number. */
  | { readonly of: 'phone digits'; readonly field: 'phone' | 'more_phones' }
  /** The address as it is shown, where that is not its key. */
  | { readonly of: 'shown address' }
  | {
      readonly of: 'contact';
      readonly field:
        'owner' | 'shared_with' | 'permission' | 'closeness' | 'rating' | 'band' | NamedKey;
    }
  /** The moment behind a day, as an index knows it. */
  | { readonly of: 'moment'; readonly field: MomentKey }
  /** One of the office's own fields: a number, or a day or word as text; null where something else is kept. */
  | { readonly of: 'own'; readonly field: string; readonly as: 'number' | 'day' | 'word' }
  /** Full years or days from a day, a moment or an own field, until today. */
  | {
      readonly of: 'since';
      readonly day: MomentKey | { readonly own: string };
      readonly unit: SinceUnit;
      /** `YYYY-MM-DD`. */
      readonly today: string;
    }
  | { readonly of: 'contact id' }
  /** The hash of the address; null where there is none. */
  | { readonly of: 'address hash' }
  /** How a contact stands to being mailed: one of core's standings. */
  | { readonly of: 'standing' }
  /** Tables: `contact_id, tag_id`; `contact_id, tag_id, at` of those of which it is known when they were put on; do not mail, `address_hash, reason, at`; dropped topics, `address_hash, topic_id`. */
  | { readonly of: 'tag' }
  /** Whether somebody has an automatic tag. */
  | { readonly of: 'automatic tag'; readonly tag: AutomaticTag }
  | { readonly of: 'tag put on' }
  /** Whether the rating now is at least so far from its lowest (highest) of the last days, until today. */
  | {
      readonly of: 'rating move';
      readonly way: 'rose' | 'fell';
      readonly by: number;
      readonly days: number;
      /** `YYYY-MM-DD`. */
      readonly today: string;
    }
  /** A subquery of contact keys, with a row for each letter of these campaigns that is so. */
  | {
      readonly of: 'letters';
      readonly did: LetterDeed;
      readonly machines: boolean;
      readonly campaigns: readonly number[];
      /** Only clicks of these, by campaign and number. */
      readonly links?: Links;
    }
  /** How many of the last letters that somebody was sent are so, or are not. */
  | {
      readonly of: 'their letters';
      readonly are: 'so' | 'not so';
      readonly count: number;
      readonly did: LetterDeed;
      readonly machines: boolean;
      readonly links?: Links;
    }
  /** How many letters of somebody were so up to now. */
  | { readonly of: 'letters so far'; readonly did: KeptDeed }
  | {
      readonly of: 'near';
      readonly lat: number;
      readonly lon: number;
      readonly km: number;
      readonly isWithin: boolean;
    }
  | { readonly of: 'in pools'; readonly pools: readonly number[] }
  /** By hand, in a fixed segment. */
  | { readonly of: 'listed in'; readonly segment: number }
  /** A member's own people and those shared with them. */
  | { readonly of: 'seen by'; readonly user: number }
  | { readonly of: 'do not mail' }
  | { readonly of: 'dropped topic' };

export type Piece =
  | string
  | {
      readonly param: string | number | boolean | readonly number[] | readonly string[];
      readonly type:
        'text' | 'numeric' | 'int' | 'date' | 'timestamptz' | 'int[]' | 'text[]' | 'jsonb';
    }
  /** The moment at which a day of the office, `YYYY-MM-DD`, begins or is over. */
  | { readonly day: string; readonly edge: 'begins' | 'is over' }
  /** The office's time zone. */
  | { readonly zone: true }
  | { readonly ref: Reference }
  /** Whose key stands among the `contact_id` of a query, which begins behind `from`. */
  | { readonly among: Fragment }
  | { readonly not: Fragment }
  /** Asked of each person in turn: nothing is joined for it, whatever a database guesses of how many it finds. */
  | { readonly oneByOne: Fragment };

export type Fragment = readonly Piece[];

export const everybody: Fragment = ['true'];
export const nobody: Fragment = ['false'];

export const join = (parts: readonly Fragment[], link: ' and ' | ' or '): Fragment =>
  parts.length === 1
    ? (parts[0] ?? everybody)
    : ['(', ...parts.flatMap((part, at) => (at === 0 ? part : [link, ...part])), ')'];

export const whoseKeyIn = (query: Fragment): Fragment => [{ among: query }];
export const negate = (part: Fragment): Fragment => [{ not: part }];
export const oneByOne = (part: Fragment): Fragment => [{ oneByOne: part }];

/** The query of a condition that asks for nothing but whose key is, or is not, among its own; undefined of any other. */
export function queryOf(
  fragment: Fragment,
): { readonly query: Fragment; readonly isNot: boolean } | undefined {
  const [only, ...others] = fragment;
  if (typeof only !== 'object' || others.length > 0) return undefined;
  if ('among' in only) return { query: only.among, isNot: false };
  if ('oneByOne' in only) return queryOf(only.oneByOne);
  const inner = 'not' in only ? queryOf(only.not) : undefined;
  return inner && { query: inner.query, isNot: !inner.isNot };
}

/** Whose address is in a table of hashes. Never null, and a database may begin with the table where that is short. */
export const hashAmong = (table: Fragment): Fragment => [
  '(',
  { ref: { of: 'address hash' } },
  ' is not null and ',
  { ref: { of: 'address hash' } },
  ' in (select address_hash from ',
  ...table,
  '))',
];
