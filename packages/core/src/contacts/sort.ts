// How a list of people is sorted, in one short text: `town,-came_in` is by town, then who came in last first.

export interface SortTerm {
  /** The key of a field, or `name`. */
  readonly key: string;
  readonly desc: boolean;
}

/** More would hardly be seen. */
export const SORT_TERMS = 4;

export const sortText = (terms: readonly SortTerm[]): string =>
  terms.map(({ key, desc }) => (desc ? `-${key}` : key)).join(',');

/** Undefined where the text is none; a key that occurs again sorts nothing. */
export function parseSort(text: string): readonly SortTerm[] | undefined {
  if (text === '') return [];
  const terms = text.split(',', SORT_TERMS + 1).map((part): SortTerm | undefined => {
    const [, minus, key = ''] = /^(-?)([a-z0-9_]{1,40})$/.exec(part) ?? [];
    return key === '' ? undefined : { key, desc: minus === '-' };
  });
  if (terms.length > SORT_TERMS || terms.includes(undefined)) return undefined;
  const known = terms.filter((term) => term !== undefined);
  return known.filter(({ key }, at) => known.findIndex((one) => one.key === key) === at);
}
