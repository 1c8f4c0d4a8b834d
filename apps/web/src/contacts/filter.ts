// The place of a list is in the address bar; a person's page carries it along.
import { standings } from '@palabra/core/contacts';
import type { Filter } from './contacts.api';

const number = (text: string | null): number | undefined =>
  text && /^[1-9]\d{0,8}$/.test(text) ? Number(text) : undefined;

export function readFilter(search: URLSearchParams): Filter {
  return {
    of: search.get('of') ?? undefined,
    q: search.get('q') ?? undefined,
    tag: number(search.get('tag')),
    pool: number(search.get('pool')),
    standing: standings.find((one) => one === search.get('standing')),
  };
}

export function filterText(filter: Filter): string {
  const search = new URLSearchParams();
  for (const [key, value] of Object.entries(filter))
    if (value !== undefined && value !== '') search.set(key, String(value));
  const text = search.toString();
  return text === '' ? '' : `?${text}`;
}
