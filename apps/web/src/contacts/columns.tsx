// The columns of a table of people.
import type { PersonRow } from '@palabra/contract/contacts';
import { doNotMailWords, listName } from '@palabra/core/contacts';
import { useMemo } from 'react';
import { useOffice } from '../office';
import { Name } from '../ui/Rows';
import { ago } from '../ui/time';
import type { Column } from '../ui/table';
import { Small, Soft, Wrongly } from '../ui/text';
import classes from './contacts.module.css';
import { Flag, Flags } from './Flag';
import { useVocabularyQuery } from './contacts.api';

const TAGS_SHOWN = 2;

export const nameOf = (row: PersonRow): string =>
  listName({ given: row.givenName, family: row.familyName }, row.address);

/** `list` is the list that the person's page goes on with, as its address says it. */
export function usePeopleColumns(list: string): readonly Column<PersonRow>[] {
  const { data } = useVocabularyQuery();
  const { office } = useOffice();
  return useMemo(() => {
    const tags = new Map(data?.tags.map((tag) => [tag.id, tag]));
    const tagNames = (row: PersonRow): string =>
      row.tags.map((id) => tags.get(id)?.name ?? '…').join(', ');
    return [
      {
        id: 'name',
        name: 'name',
        width: 176,
        fixed: true,
        title: nameOf,
        view: (row) => <Name to={`/contacts/${row.id}${list}`}>{nameOf(row)}</Name>,
      },
      {
        id: 'address',
        name: 'address',
        width: 220,
        title: (row) => row.address ?? undefined,
        view: (row) => (
          <Soft className={classes.address}>
            <span>{row.address ?? 'no address'}</span>
            {row.doNotMail && <Wrongly>&nbsp;· {doNotMailWords[row.doNotMail]}</Wrongly>}
          </Soft>
        ),
      },
      {
        id: 'town',
        name: 'town',
        width: 110,
        title: (row) => row.town ?? undefined,
        view: (row) => row.town,
      },
      {
        id: 'tags',
        name: 'tags',
        title: tagNames,
        view: (row) => (
          <Flags>
            {row.tags.slice(0, TAGS_SHOWN).map((id) => {
              const tag = tags.get(id);
              return tag && <Flag key={id} name={tag.name} colour={tag.colour} />;
            })}
            {row.tags.length > TAGS_SHOWN && <Small>+{row.tags.length - TAGS_SHOWN}</Small>}
          </Flags>
        ),
      },
      {
        id: 'last response',
        name: 'last response',
        width: 104,
        view: (row) => <Soft>{ago(office.timeZone, row.lastResponse)}</Soft>,
      },
    ];
  }, [data, office.timeZone, list]);
}
