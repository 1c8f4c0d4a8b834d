// The table of people: 36 px rows, a selection that takes the place of the head.
import type { PersonRow } from '@palabra/contract/contacts';
import { doNotMailWords, listName } from '@palabra/core/contacts';
import { useRef, type ReactNode } from 'react';
import { Link } from 'react-router';
import { useOffice } from '../office/OfficeContext';
import { ago } from '../ui/time';
import { Flag } from './Flag';
import { useVocabularyQuery } from './contacts.api';

const TAGS_SHOWN = 2;

interface PeopleTableProps {
  readonly rows: readonly PersonRow[];
  /** Where a row leads: the person's page that knows this list. */
  readonly to: (id: number) => string;
  readonly selection?: {
    readonly has: (id: number) => boolean;
    readonly toggle: (rows: readonly PersonRow[], on: boolean) => void;
    readonly bar: ReactNode | undefined;
  };
}

export function PeopleTable({ rows, to, selection }: PeopleTableProps) {
  const { data } = useVocabularyQuery();
  const { office } = useOffice();
  const last = useRef<number | undefined>(undefined);
  const tags = new Map(data?.tags.map((tag) => [tag.id, tag]));
  const all = rows.length > 0 && rows.every(({ id }) => selection?.has(id));

  const choose = (index: number, on: boolean, range: boolean): void => {
    const from = range && last.current !== undefined ? last.current : index;
    selection?.toggle(rows.slice(Math.min(from, index), Math.max(from, index) + 1), on);
    last.current = index;
  };

  return (
    <table className="people">
      <colgroup>
        {selection && <col style={{ width: 34 }} />}
        <col style={{ width: '23%' }} />
        <col style={{ width: '28%' }} />
        <col style={{ width: '13%' }} />
        <col />
        <col style={{ width: 96 }} />
      </colgroup>
      <thead>
        {selection?.bar ? (
          <tr>
            <th
              colSpan={6}
              style={{ padding: 0, color: 'var(--ink)', fontSize: 15, borderBottom: 0 }}
            >
              {selection.bar}
            </th>
          </tr>
        ) : (
          <tr>
            {selection && (
              <th className="choose">
                <input
                  type="checkbox"
                  aria-label="Choose everybody on this page"
                  checked={all}
                  onChange={(event) => selection.toggle(rows, event.currentTarget.checked)}
                />
              </th>
            )}
            <th scope="col">name</th>
            <th scope="col">address</th>
            <th scope="col">town</th>
            <th scope="col">tags</th>
            <th scope="col">last response</th>
          </tr>
        )}
      </thead>
      <tbody>
        {rows.map((row, index) => {
          const name = listName({ given: row.givenName, family: row.familyName }, row.address);
          return (
            <tr key={row.id} aria-selected={selection ? selection.has(row.id) : undefined}>
              {selection && (
                <td className="choose">
                  <input
                    type="checkbox"
                    aria-label={`Choose ${name}`}
                    checked={selection.has(row.id)}
                    onClick={(event) => choose(index, event.currentTarget.checked, event.shiftKey)}
                    onChange={() => undefined}
                  />
                </td>
              )}
              <td className="who">
                <Link to={to(row.id)} title={name}>
                  {name}
                </Link>
              </td>
              <td className="soft" title={row.address ?? undefined}>
                {row.address ?? 'no address'}
                {row.doNotMail && <span className="wrong"> · {doNotMailWords[row.doNotMail]}</span>}
              </td>
              <td title={row.town ?? undefined}>{row.town}</td>
              <td>
                <span className="flags">
                  {row.tags.slice(0, TAGS_SHOWN).map((id) => {
                    const tag = tags.get(id);
                    return tag && <Flag key={id} name={tag.name} colour={tag.colour} />;
                  })}
                  {row.tags.length > TAGS_SHOWN && (
                    <span
                      className="soft small"
                      title={row.tags.map((id) => tags.get(id)?.name).join(', ')}
                    >
                      +{row.tags.length - TAGS_SHOWN}
                    </span>
                  )}
                </span>
              </td>
              <td className="soft">{ago(office.timeZone, row.lastResponse)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
