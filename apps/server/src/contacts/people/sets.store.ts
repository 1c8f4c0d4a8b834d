// A field of many people set in one statement: what was before, what happened and the people themselves together.
import {
  happeningsOf,
  isBuiltIn,
  isText,
  textKey,
  type ChangeSetId,
  type ContactId,
  type Field,
  type FieldValue,
} from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { changeItems, happenings } from '../changes/changes.table.js';
import { contacts } from './people.table.js';

/** How a value is read from `contacts c`, as JSON, and written from one. */
interface Kept {
  readonly read: SQL;
  readonly write: (next: SQL) => SQL;
}

function keptOf({ key }: Field): Kept {
  if (key === 'owner')
    return {
      read: sql`to_jsonb(c.owner_id::text)`,
      write: (next) => sql`owner_id = (${next} #>> '{}')::int`,
    };
  if (isBuiltIn(key)) {
    const column = sql.raw(key);
    return { read: sql`to_jsonb(c.${column})`, write: (next) => sql`${column} = ${next} #>> '{}'` };
  }
  return {
    read: sql`c.fields -> ${key}::text`,
    write: (next) =>
      sql`fields = case when ${next} is null then c.fields - ${key}::text else c.fields || jsonb_build_object(${key}::text, ${next}) end`,
  };
}

/** The key that texts are compared by, beside the value; `search` is null where there is none. */
const keyed = ({ key }: Field, search: SQL): SQL =>
  sql`keys = case when ${search} is null then c.keys - ${key}::text else c.keys || jsonb_build_object(${key}::text, ${search}) end`;

/** What texts are compared by, text for text; of other fields nothing. */
const searchOf = (field: Field, values: readonly FieldValue[]): Readonly<Record<string, string>> =>
  Object.fromEntries(
    (isText(field) ? values : []).flatMap((value) => {
      const search = value === null ? '' : textKey(field, String(value));
      return search === '' ? [] : [[String(value), search]];
    }),
  );

/** One of several choices put to what somebody has, or taken from it. */
export interface OneOfSeveral {
  readonly key: string;
  readonly put: boolean;
}

const isOneOfSeveral = (next: FieldValue | OneOfSeveral): next is OneOfSeveral =>
  typeof next === 'object' && next !== null;

/** What a value will be, as JSON; several choices are in the order of their keys, as core's `joinKeys` has them. */
function nextOf(read: SQL, next: FieldValue | OneOfSeveral): SQL {
  if (!isOneOfSeveral(next))
    return next === null ? sql`null::jsonb` : sql`${JSON.stringify(next)}::jsonb`;
  const has = sql`string_to_array(${read} #>> '{}', ',')`;
  const all = next.put
    ? sql`array_append(array_remove(${has}, ${next.key}::text), ${next.key}::text)`
    : sql`array_remove(${has}, ${next.key}::text)`;
  return sql`(select to_jsonb(string_agg(one, ',' order by one collate "C")) from unnest(${all}) one)`;
}

interface FieldStretch {
  readonly set: ChangeSetId;
  /** A condition on `contacts c`. */
  readonly people: SQL;
  readonly after: ContactId;
  readonly size: number;
  readonly now: Date;
}

/**
 * Sets a field that is about nobody in particular for the people of one stretch of contact keys; whoever has the value
 * already is left as they are. Undefined at the end.
 */
export async function setField(
  db: Db,
  { set, people, after, size, now }: FieldStretch,
  field: Field,
  value: FieldValue | OneOfSeveral,
): Promise<{ changed: number; last: ContactId } | undefined> {
  const { key } = field;
  const { read, write } = keptOf(field);
  const search = isOneOfSeveral(value) ? {} : searchOf(field, [value]);
  const [happened] = happeningsOf({ [key]: null }, { [key]: true });
  const { rows } = await execute<{ changed: number; last: ContactId | null }>(
    db,
    sql`
    with stretch as materialized (select c.id, nullif(${read}, 'null') as was, ${nextOf(read, value)} as next from ${contacts} c
      where ${people} and c.id > ${after} order by c.id limit ${size} for update of c),
    changed as (update ${contacts} c set ${write(sql`s.next`)}, ${keyed(field, sql`(${JSON.stringify(search)}::jsonb ->> (s.next #>> '{}'))`)}, version = c.version + 1, updated_at = ${now}
      from stretch s where c.id = s.id and s.was is distinct from s.next returning c.id, s.was, s.next),
    items as (insert into ${changeItems} (set_id, contact_id, before, after)
      select ${set}::int, id, jsonb_build_object(${key}::text, was), jsonb_build_object(${key}::text, next) from changed),
    happened as (insert into ${happenings} (set_id, contact_id, kind, which)
      select ${set}::int, id, ${happened?.kind ?? 'changed'}, ${happened?.which ?? ''} from changed)
    select (select count(*) from changed) as changed, (select max(id) from stretch) as last`,
  );
  const [row] = rows;
  return row && row.last !== null ? { changed: row.changed, last: row.last } : undefined;
}

/** Whoever is somewhere else has another position, which the writer looks up. */
const saysWhere: ReadonlySet<string> = new Set(['postcode', 'town', 'region', 'country']);

/** Whether a field is set for many in one statement a stretch; of any other each person is written. */
export const isSetAtOnce = (field: Field): boolean => !saysWhere.has(field.key);
