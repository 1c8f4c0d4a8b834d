// The place of a list is in the address bar: whom it is narrowed to, sorted by what, in which view; a person's page
// carries it along.
import { parseSort, sortText, standings } from '@palabra/core/contacts';
import type { Filter } from './contacts.api';

export interface ListPlace extends Filter {
  /** As the server reads it: `town,-came_in`. */
  readonly sort?: string;
  readonly view?: number;
}

const number = (text: string | null): number | undefined =>
  text && /^[1-9]\d{0,8}$/.test(text) ? Number(text) : undefined;
const sorting = (text: string | null): string | undefined => {
  const terms = text === null ? undefined : parseSort(text);
  return terms && sortText(terms);
};

export function readPlace(search: URLSearchParams): ListPlace {
  const filter = search.get('filter');
  return {
    view: number(search.get('view')),
    of: search.get('of') ?? undefined,
    q: search.get('q') ?? undefined,
    tag: number(search.get('tag')),
    pool: number(search.get('pool')),
    standing: standings.find((one) => one === search.get('standing')),
    filter: filter !== null && /^[0-9a-f]{24}$/.test(filter) ? filter : undefined,
    sort: sorting(search.get('sort')),
  };
}

export const filterOf = ({ view: _, sort: __, ...filter }: ListPlace): Filter => filter;

export function placeText(place: ListPlace): string {
  const search = new URLSearchParams();
  for (const [key, value] of Object.entries(place))
    if (value !== undefined && value !== '') search.set(key, String(value));
  const text = search.toString();
  return text === '' ? '' : `?${text}`;
}
