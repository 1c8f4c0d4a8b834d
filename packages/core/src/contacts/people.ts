// "Every number opens": the name of a set of people, short enough for an address bar.

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

export const peopleRef = (kind: string, id: number, part?: string): string => (part ? `${kind}.${id}.${part}` : `${kind}.${id}`);

/** How many letters of a search need which kind of look-up: short words by prefix, longer ones anywhere. */
export function searchWords(text: string, key: (text: string) => string): { readonly word: string; readonly anywhere: boolean }[] {
  return key(text)
    .split(' ')
    .filter((word) => word !== '')
    .slice(0, 5)
    .map((word) => ({ word, anywhere: [...word].length >= 3 }));
}
