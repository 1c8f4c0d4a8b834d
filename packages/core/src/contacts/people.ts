// "Every number opens": the name of a set of people, short enough for an address bar.
import { asciiForm } from './address.js';

/**
 * A set of people by name: `segment.4`, `campaign.12.opened`, `import.3.new`. What the parts mean
 * is decided by the capability that owns the first word.
 */
export interface PeopleRef {
  readonly kind: string;
  readonly id: number;
  readonly part: string;
}

export function parsePeopleRef(text: string): PeopleRef | undefined {
  const found = /^([a-z]{1,20})\.([1-9]\d{0,8})(?:\.([a-z0-9-]{1,40}))?$/.exec(text);
  return found ? { kind: found[1] ?? '', id: Number(found[2]), part: found[3] ?? '' } : undefined;
}

export const peopleRef = (kind: string, id: number, part?: string): string =>
  part ? `${kind}.${id}.${part}` : `${kind}.${id}`;

export interface SearchWord {
  readonly word: string;
  /** Short words are looked up by prefix, longer ones anywhere. */
  readonly anywhere: boolean;
  /** How a domain with letters beyond ASCII is kept, where the word may be one. */
  readonly ascii?: string;
}

/** The words of a search, at most five. */
export function searchWords(text: string, key: (text: string) => string): SearchWord[] {
  const typed = text.trim().split(/\s+/);
  const words = key(text)
    .split(' ')
    .filter((word) => word !== '');
  return words.slice(0, 5).map((word, at) => {
    const ascii = typed.length === words.length ? asciiForm(typed[at] ?? '') : undefined;
    return { word, anywhere: [...word].length >= 3, ...(ascii === undefined ? {} : { ascii }) };
  });
}
