// "Every number opens": the name of a set of people, short enough for an address bar.
import type { Dashed, HeldBackReason } from '../campaigns/tally.js';
import type { ResultNumber, resultNumbers } from '../results/index.js';
import { asciiForm } from './address.js';

/** Every kind of set, and what its parts may be; '' is the whole of it. Who owns a kind says what its parts mean. */
export interface PeopleParts {
  /** Of the rule in force; of the draft beside it, and who comes and goes by it; everybody in the pools of either. */
  segment: '' | 'draft' | 'comes' | 'goes' | 'pools';
  campaign:
    | 'matched'
    | 'in-several'
    | 'held-back'
    | 'receives'
    | Dashed<HeldBackReason>
    | (typeof resultNumbers)[ResultNumber]['part']
    | `link-${number}`;
  change: '' | 'left-alone';
  /** Who has another tag as well, or has not. */
  tag: '' | `and-${number}` | `without-${number}`;
  import:
    | ''
    | 'new'
    | 'changed'
    | 'unchanged'
    | 'elsewhere'
    | 'would-go'
    | 'would-stay'
    | 'changed-since';
  /** The number is of days. */
  since: 'came-in' | 'left' | 'hard-bounce' | 'responded';
  /** By rating; the number is of days, and always the ninety that are kept. */
  rated: 'rose' | 'fading';
  /** Chosen in a list, for a campaign. */
  people: '';
  /** The number is of refusals in a row. */
  refused: '';
}
export type PeopleKind = keyof PeopleParts;

const kinds: { readonly [K in PeopleKind]: true } = {
  segment: true,
  campaign: true,
  change: true,
  tag: true,
  import: true,
  since: true,
  rated: true,
  refused: true,
  people: true,
};
export const peopleKinds = Object.keys(kinds) as readonly PeopleKind[];

/** A set of people by name, as addresses have it: `segment.4`, `campaign.12.opened`, `import.3.new`. */
export type PeopleName = {
  [K in PeopleKind]: PeopleParts[K] extends infer P extends string
    ? P extends ''
      ? `${K}.${number}`
      : `${K}.${number}.${P}`
    : never;
}[PeopleKind];

/** A name that was taken apart: its part is whatever stood there. */
export interface PeopleRef {
  readonly kind: PeopleKind;
  readonly id: number;
  readonly part: string;
}

/** Reads a name from an address; undefined where it is none. */
export function parsePeopleRef(text: string): PeopleRef | undefined {
  const [, word, id, part = ''] =
    /^([a-z]{1,20})\.([1-9]\d{0,8})(?:\.([a-z0-9-]{1,40}))?$/.exec(text) ?? [];
  const kind = peopleKinds.find((one) => one === word);
  return kind && { kind, id: Number(id), part };
}

export interface SearchWord {
  readonly word: string;
  /** Short words are looked up by prefix, longer ones anywhere. */
  readonly anywhere: boolean;
  /** How a domain with letters beyond ASCII is kept, where the word may be one. */
  readonly ascii?: string;
}

/** The words of a search, at most five; a name may be typed as lists write it (“Ash, Maud”). */
export function searchWords(text: string, key: (text: string) => string): SearchWord[] {
  const plain = text.replace(/[,;]/g, ' ');
  const typed = plain.trim().split(/\s+/);
  const words = key(plain)
    .split(' ')
    .filter((word) => word !== '');
  return words.slice(0, 5).map((word, at) => {
    const ascii = typed.length === words.length ? asciiForm(typed[at] ?? '') : undefined;
    return { word, anywhere: [...word].length >= 3, ...(ascii === undefined ? {} : { ascii }) };
  });
}
