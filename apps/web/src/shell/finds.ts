// What the palette finds for what was typed.
import type { PeoplePage, PeopleQuery } from '@palabra/contract/contacts';
import { listName, searchKey } from '@palabra/core/contacts';
import { useNavigate } from 'react-router';
import { useLatest } from '../api/latest';
import { statusWords, useCampaignsQuery } from '../campaigns';
import { contactsApi } from '../contacts';
import { useLettersQuery } from '../letters';
import { useMay } from '../office';
import { useSegmentsQuery } from '../segments';
import { ranked } from '../ui/Finder';

export interface Find {
  readonly key: string;
  readonly group: string;
  readonly label: string;
  readonly note?: string;
  readonly go: () => void;
}

const EACH = 6;
const places = [
  ['Desk', '/'],
  ['Contacts', '/contacts'],
  ['Tags', '/contacts/tags'],
  ['Tasks', '/tasks'],
  ['Segments', '/segments'],
  ['Compare segments', '/segments/compare'],
  ['Letters', '/letters'],
  ['Campaigns', '/campaigns'],
  ['Results', '/results'],
  ['Mail that came back', '/results/returned'],
  ['Intake', '/intake'],
  ['Activity', '/activity'],
  ['Settings', '/settings'],
] as const;

function useDeeds(to: (path: string) => () => void): Find[] {
  const write = useMay('write letters');
  const change = useMay('change people');
  const carve = useMay('make segments');
  const deeds: readonly (readonly [string, string, boolean])[] = [
    ['New campaign', '/campaigns/new', write],
    ['New segment', '/segments/new', carve],
    ['Write a letter', '/letters?new', write],
    ['Import a list', '/intake', change],
  ];
  return [
    ...deeds
      .filter(([, , may]) => may)
      .map(([label, path]) => ({ key: label, group: 'Do', label, go: to(path) })),
    ...places.map(([label, path]) => ({ key: label, group: 'Go to', label, go: to(path) })),
  ];
}

/** What is found so far; `isWhole` once nothing is on its way any more. */
export function useFinds(text: string): {
  readonly finds: readonly Find[];
  readonly isWhole: boolean;
} {
  const navigate = useNavigate();
  const to = (path: string) => (): void => void navigate(path);
  const q = text.trim();
  const { answer, isCurrent, isPending } = useLatest<PeopleQuery, PeoplePage>(
    contactsApi.endpoints.people.initiate,
    q === '' ? undefined : { q, limit: EACH },
  );
  const segments = useSegmentsQuery();
  const letters = useLettersQuery();
  const campaigns = useCampaignsQuery();
  const deeds = useDeeds(to);
  if (q === '') return { finds: deeds, isWhole: true };
  const named = <T extends { readonly id: number; readonly name: string }>(
    group: string,
    items: readonly T[] | undefined,
    path: string,
    noteOf?: (item: T) => string,
  ): Find[] =>
    ranked(
      (items ?? []).map((item) => ({ key: `${group} ${item.id}`, text: item.name, item })),
      q,
    )
      .slice(0, EACH)
      .map(({ key, item }) => ({
        key,
        group,
        label: item.name,
        note: noteOf?.(item),
        go: to(`${path}/${item.id}`),
      }));
  // Until the next answer is there; what can't be had is not what an older question found.
  const people = isCurrent || isPending ? (answer?.rows ?? []) : [];
  const finds = [
    ...people.map((row) => ({
      key: `person ${row.id}`,
      group: 'People',
      label: listName({ given: row.givenName, family: row.familyName }, row.address),
      note: [row.town, row.address].filter(Boolean).join(', '),
      go: to(`/contacts/${row.id}?q=${encodeURIComponent(q)}`),
    })),
    ...named('Segments', segments.data, '/segments'),
    ...named('Letters', letters.data, '/letters'),
    ...named('Campaigns', campaigns.data, '/campaigns', ({ status }) => statusWords[status]),
    ...deeds.filter(({ label }) => searchKey(label).includes(searchKey(q))),
  ];
  const isWhole = !isPending && !segments.isLoading && !letters.isLoading && !campaigns.isLoading;
  return { finds, isWhole };
}
