// The columns of a table of people.
import type { PersonRow } from '@palabra/contract/contacts';
import {
  doNotMailWords,
  formatFieldValue,
  isMoment,
  listName,
  type Band,
  type Field,
} from '@palabra/core/contacts';
import { useMemo } from 'react';
import { useOffice } from '../office';
import { Name } from '../ui/Rows';
import { ago } from '../ui/time';
import type { CellEdit, Column, TableArrangement } from '../ui/table';
import { Small, Soft, Wrongly } from '../ui/text';
import classes from './contacts.module.css';
import { Flag, Flags } from './Flag';
import { useVocabularyQuery } from './contacts.api';
import { RatingBar, ratingWords } from './ratings/RatingBar';

const TAGS_SHOWN = 2;

/** Those put on by hand first. */
const allTagsOf = ({ tags, automatic }: PersonRow): number[] => [...tags, ...automatic];

export const nameOf = (row: PersonRow): string =>
  listName({ given: row.givenName, family: row.familyName }, row.address);

/** Fields that stand in the name, or in a column of their own. */
const apart: ReadonlySet<string> = new Set(['given_name', 'family_name', 'address']);
const hasColumn = ({ key }: Field): boolean => !apart.has(key);
const atFirst: ReadonlySet<string> = new Set(['town', 'last_response']);

/** The keys of fields whose values a table shows. */
export const columnsShown = (
  fields: readonly Field[],
  { shown = {} }: Partial<TableArrangement>,
): string[] =>
  fields
    .filter((field) => hasColumn(field) && (shown[field.key] ?? atFirst.has(field.key)))
    // The rating’s bar bears the band’s word.
    .flatMap(({ key }) => (key === 'rating' ? ['rating', 'band'] : [key]))
    .filter((key, at, all) => all.indexOf(key) === at);

const ratingOf = ({ values }: PersonRow) => ({
  rating: (values['rating'] as number | null | undefined) ?? null,
  band: (values['band'] as Band | null | undefined) ?? null,
});

function fieldColumn(
  field: Field,
  zone: string,
  edit: CellEdit<PersonRow> | undefined,
): Column<PersonRow> {
  const words = (row: PersonRow): string => {
    if (field.key === 'rating') return ratingWords(ratingOf(row));
    const value = row.values[field.key] ?? null;
    return isMoment(field.key) && typeof value === 'string'
      ? ago(zone, value)
      : formatFieldValue(field, value);
  };
  return {
    id: field.key,
    name: field.label,
    width: isMoment(field.key) ? 104 : 120,
    hidden: !atFirst.has(field.key),
    isSortable: true,
    end:
      (field.type === 'number' && field.key !== 'rating') ||
      field.type === 'money' ||
      field.type === 'computed',
    title: words,
    view: (row) => {
      if (field.key === 'rating') return <RatingBar {...ratingOf(row)} />;
      const text = words(row);
      if (isMoment(field.key)) return <Soft>{text || 'never'}</Soft>;
      if (field.type !== 'link' || text === '') return text;
      return (
        <a href={text} target="_blank" rel="noopener noreferrer nofollow">
          {text.replace(/^https?:\/\//, '')}
        </a>
      );
    },
    ...(edit ? { edit } : {}),
  };
}

/**
 * `list` is the list that the person's page goes on with, as its address says it; `edit` says how a field is changed
 * in its cell, and stays the same between renders.
 */
export function usePeopleColumns(
  list: string,
  edit?: (field: Field) => CellEdit<PersonRow> | undefined,
): readonly Column<PersonRow>[] {
  const { data } = useVocabularyQuery();
  const { office } = useOffice();
  return useMemo(() => {
    const tags = new Map(data?.tags.map((tag) => [tag.id, tag]));
    const tagNames = (row: PersonRow): string =>
      allTagsOf(row)
        .map((id) => tags.get(id)?.name ?? '…')
        .join(', ');
    const further = (data?.fields ?? []).flatMap((field) =>
      hasColumn(field) ? [fieldColumn(field, office.timeZone, edit?.(field))] : [],
    );
    return [
      {
        id: 'name',
        name: 'name',
        width: 176,
        fixed: true,
        isSortable: true,
        title: nameOf,
        view: (row) => <Name to={`/contacts/${row.id}${list}`}>{nameOf(row)}</Name>,
      },
      {
        id: 'address',
        name: 'address',
        width: 220,
        isSortable: true,
        title: (row) => row.address ?? undefined,
        view: (row) => (
          <Soft className={classes.address}>
            <span>{row.address ?? 'no address'}</span>
            {row.doNotMail && <Wrongly>&nbsp;· {doNotMailWords[row.doNotMail]}</Wrongly>}
          </Soft>
        ),
      },
      ...further.filter(({ id }) => id === 'town'),
      {
        id: 'tags',
        name: 'tags',
        title: tagNames,
        view: (row) => (
          <Flags>
            {allTagsOf(row)
              .slice(0, TAGS_SHOWN)
              .map((id) => {
                const tag = tags.get(id);
                return tag && <Flag key={id} name={tag.name} colour={tag.colour} kind={tag.kind} />;
              })}
            {allTagsOf(row).length > TAGS_SHOWN && (
              <Small>+{allTagsOf(row).length - TAGS_SHOWN}</Small>
            )}
          </Flags>
        ),
      },
      ...further.filter(({ id }) => id !== 'town'),
    ];
  }, [data, office.timeZone, list, edit]);
}
