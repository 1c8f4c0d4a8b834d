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

/** How a value is read, as JSON, and what becomes of a contact that is given another. */
interface Kept {
  readonly read: SQL;
  readonly write: SQL;
}

function keptOf(field: Field, value: FieldValue): Kept {
  const { key } = field;
  if (key === 'owner')
    return {
      read: sql`to_jsonb(c.owner_id::text)`,
      write: sql`owner_id = ${Number(value)}::int`,
    };
  const search = isText(field) && value !== null ? textKey(field, String(value)) : '';
  const keys =
    search === ''
      ? sql`keys = c.keys - ${key}::text`
      : sql`keys = c.keys || ${JSON.stringify({ [key]: search })}::jsonb`;
  if (isBuiltIn(key)) {
    const column = sql.raw(key);
    return {
      read: sql`to_jsonb(c.${column})`,
      write: sql`${column} = ${value === null ? null : String(value)}::text, ${keys}`,
    };
  }
  return {
    read: sql`c.fields -> ${key}::text`,
    write:
      value === null
        ? sql`fields = c.fields - ${key}::text, ${keys}`
        : sql`fields = c.fields || ${JSON.stringify({ [key]: value })}::jsonb, ${keys}`,
  };
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
  value: FieldValue,
): Promise<{ changed: number; last: ContactId } | undefined> {
  const { read, write } = keptOf(field, value);
  const next = value === null ? sql`null::jsonb` : sql`${JSON.stringify(value)}::jsonb`;
  const [happened] = happeningsOf({ [field.key]: null }, { [field.key]: value });
  const { rows } = await execute<{ changed: number; last: ContactId | null }>(
    db,
    sql`
    with stretch as materialized (select c.id, ${read} as was from ${contacts} c
      where ${people} and c.id > ${after} order by c.id limit ${size} for update of c),
    changed as (update ${contacts} c set ${write}, version = c.version + 1, updated_at = ${now}
      from stretch s where c.id = s.id and nullif(s.was, 'null') is distinct from ${next} returning c.id, s.was),
    items as (insert into ${changeItems} (set_id, contact_id, before, after)
      select ${set}::int, id, jsonb_build_object(${field.key}::text, was), jsonb_build_object(${field.key}::text, ${next}) from changed),
    happened as (insert into ${happenings} (set_id, contact_id, kind, which)
      select ${set}::int, id, ${happened?.kind ?? 'changed'}, ${happened?.which ?? ''} from changed)
    select (select count(*) from changed) as changed, (select max(id) from stretch) as last`,
  );
  const [row] = rows;
  return row && row.last !== null ? { changed: row.changed, last: row.last } : undefined;
}

/** Whether the undoing of a field set for many can be done in one statement a stretch. */
export const isSetBack = (field: Field): boolean => !isText(field) && field.key !== 'owner';

/**
 * Takes back one stretch of a field that was set for many. Whoever has another value since, and whoever is not among
 * `people`, is left alone and counted. Undefined at the end.
 */
export async function setFieldBack(
  db: Db,
  { set, people, after, size, now }: FieldStretch,
  undoes: ChangeSetId,
  field: Field,
): Promise<{ changed: number; leftAlone: number; last: ContactId } | undefined> {
  const { key } = field;
  const { read } = keptOf(field, null);
  const write = isBuiltIn(key)
    ? sql`${sql.raw(key)} = k.was #>> '{}'`
    : sql`fields = case when k.was is null then c.fields - ${key}::text else c.fields || jsonb_build_object(${key}::text, k.was) end`;
  const [happened] = happeningsOf({ [key]: null }, { [key]: true });
  const { rows } = await execute<{ changed: number; items: number; last: ContactId | null }>(
    db,
    sql`
    with stretch as materialized (select contact_id, nullif(before -> ${key}::text, 'null') as was, nullif(after -> ${key}::text, 'null') as had
      from ${changeItems} where set_id = ${undoes} and contact_id > ${after} order by contact_id limit ${size}),
    kept as materialized (select c.id, s.was, s.had from stretch s join ${contacts} c on c.id = s.contact_id
      where c.deleted_at is null and ${people} and nullif(${read}, 'null') is not distinct from s.had for update of c),
    changed as (update ${contacts} c set ${write}, version = c.version + 1, updated_at = ${now}
      from kept k where c.id = k.id returning c.id, k.was, k.had),
    items as (insert into ${changeItems} (set_id, contact_id, before, after)
      select ${set}::int, id, jsonb_build_object(${key}::text, had), jsonb_build_object(${key}::text, was) from changed),
    happened as (insert into ${happenings} (set_id, contact_id, kind, which)
      select ${set}::int, id, ${happened?.kind ?? 'changed'}, ${happened?.which ?? ''} from changed)
    select (select count(*) from changed) as changed, (select count(*) from stretch) as items, (select max(contact_id) from stretch) as last`,
  );
  const [row] = rows;
  return row && row.last !== null
    ? { changed: row.changed, leftAlone: row.items - row.changed, last: row.last }
    : undefined;
}
