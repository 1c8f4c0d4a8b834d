// The office's own fields, and what it says of those that are built in: few rows, read whole.
import {
  builtInFields,
  diallingOf,
  FIELD_LIMITS,
  isBuiltIn,
  ownId,
  ownKey,
  searchKey,
  type ContactId,
  type Dialling,
  type Field,
  type FieldValue,
} from '@palabra/core/contacts';
import { and, asc, eq, gte, inArray, isNotNull, isNull, lt, sql, type SQL } from 'drizzle-orm';
import { findOffice } from '../../office/index.js';
import { execute, type Db } from '../../platform/database.js';
import { allUsers } from '../../platform/sign-in/sign-in.store.js';
import { contacts } from '../people/people.table.js';
import { ownFields } from '../vocabulary/vocabulary.table.js';

type Row = typeof ownFields.$inferSelect;

/** A field, and the version of what the office says of it. */
export interface Defined {
  readonly id: number;
  readonly field: Field;
  readonly version: number;
}

const keyOf = ({ id, builtIn }: Pick<Row, 'id' | 'builtIn'>): string => builtIn ?? ownKey(id);

const fieldOf = (row: Row): Field => ({
  key: keyOf(row),
  label: row.label,
  type: row.type,
  ...(row.type === 'choice' || row.type === 'choices'
    ? { choices: row.choices }
    : row.choices.length > 0
      ? { formerChoices: row.choices }
      : {}),
  ...(row.type === 'computed' ? { isFact: true } : {}),
  ...(row.type === 'computed' && row.sinceDay !== null && row.sinceUnit !== null
    ? { since: { day: row.sinceDay, unit: row.sinceUnit } }
    : {}),
  ...(row.type === 'money' && row.currency !== null ? { currency: row.currency } : {}),
  ...(row.isRequired ? { isRequired: true } : {}),
  ...(row.standard === '' ? {} : { standard: row.standard }),
  ...(row.help === '' ? {} : { help: row.help }),
  ...(row.groupName === '' ? {} : { group: row.groupName }),
});

type Columns = Omit<
  typeof ownFields.$inferInsert,
  'id' | 'builtIn' | 'version' | 'position' | 'createdAt' | 'deletedAt'
>;

const columnsOf = (field: Field): Columns => ({
  label: field.label,
  labelKey: searchKey(field.label),
  type: field.type,
  choices: [...(field.choices ?? field.formerChoices ?? [])],
  isRequired: field.isRequired ?? false,
  standard: field.standard ?? '',
  help: field.help ?? '',
  groupName: field.group ?? '',
  currency: field.currency ?? null,
  sinceDay: field.since?.day ?? null,
  sinceUnit: field.since?.unit ?? null,
});

/** What the office defines, in its order. */
export async function definedFields(db: Db): Promise<Defined[]> {
  const rows = await db
    .select()
    .from(ownFields)
    .where(isNull(ownFields.deletedAt))
    .orderBy(asc(ownFields.position), asc(ownFields.id));
  return rows.map((row) => ({ id: row.id, field: fieldOf(row), version: row.version }));
}

/** How the office's country dials, where it said which it is. */
export const homeOf = async (db: Db): Promise<Dialling | undefined> =>
  diallingOf((await findOffice(db))?.country ?? '');

/** All fields a contact can have, built in first, then the office's own in their order. */
export async function allFields(db: Db): Promise<Field[]> {
  const owners = (await allUsers(db)).map(({ id, name }) => ({ key: String(id), label: name }));
  const defined = new Map((await definedFields(db)).map(({ field }) => [field.key, field]));
  const builtIn = builtInFields({ owners, dialling: await homeOf(db) });
  return [
    ...builtIn.map((field) => ({ ...field, ...defined.get(field.key), label: field.label })),
    ...[...defined.values()].filter(({ key }) => !isBuiltIn(key)),
  ];
}

/** One that the office defines, locked until the transaction ends. */
/** Those of some own fields that were made since a moment, and are still there. */
export async function fieldsMadeSince(
  db: Db,
  keys: readonly string[],
  since: Date,
): Promise<{ readonly key: string; readonly label: string }[]> {
  const ids = keys.flatMap((key) => ownId(key) ?? []);
  if (ids.length === 0) return [];
  const rows = await db
    .select({ id: ownFields.id, label: ownFields.label })
    .from(ownFields)
    .where(
      and(inArray(ownFields.id, ids), isNull(ownFields.deletedAt), gte(ownFields.createdAt, since)),
    );
  return rows.map(({ id, label }) => ({ key: ownKey(id), label }));
}

export async function lockField(db: Db, key: string): Promise<Defined | undefined> {
  const id = ownId(key);
  const [row] = await db
    .select()
    .from(ownFields)
    .where(
      and(
        isNull(ownFields.deletedAt),
        id === undefined ? eq(ownFields.builtIn, key as never) : eq(ownFields.id, id),
      ),
    )
    .for('update');
  return row && { id: row.id, field: fieldOf(row), version: row.version };
}

/** Undefined where one of this name was added in the meantime, or there are as many as there may be. */
export async function addOwnField(
  db: Db,
  field: Omit<Field, 'key'>,
  now: Date,
): Promise<Field | undefined> {
  const [last] = await db
    .select({
      position: sql<number>`coalesce(max(${ownFields.position}), 0)`,
      count: sql<number>`count(*)`,
    })
    .from(ownFields)
    .where(isNull(ownFields.deletedAt));
  if (Number(last?.count ?? 0) >= FIELD_LIMITS.fields) return undefined;
  const [row] = await db
    .insert(ownFields)
    .values({
      ...columnsOf({ ...field, key: '' }),
      position: Number(last?.position ?? 0) + 1,
      createdAt: now,
    })
    .onConflictDoNothing()
    .returning();
  return row && fieldOf(row);
}

export const changeField = async (db: Db, id: number, field: Field): Promise<void> => {
  await db
    .update(ownFields)
    .set({ ...columnsOf(field), version: sql`${ownFields.version} + 1` })
    .where(eq(ownFields.id, id));
};

/** Fields that are not named keep their place behind the others. */
export const orderFields = async (db: Db, ids: readonly number[]): Promise<void> => {
  await execute(
    db,
    sql`update ${ownFields} f set position = coalesce(array_position(${sql.param([...ids])}::int[], f.id), ${ids.length}::int + f.position)`,
  );
};

/** Says its name, or undefined where there is none, or one of its name is there meanwhile. */
export async function setFieldDeleted(
  db: Db,
  id: number,
  at: Date | null,
): Promise<string | undefined> {
  const { rows } = await execute<{ label: string }>(
    db,
    sql`update ${ownFields} f set deleted_at = ${at}, version = version + 1
      where id = ${id} and built_in is null and (deleted_at is null) = ${at !== null}
        and not exists (select 1 from ${ownFields} o where o.label_key = f.label_key and o.id <> f.id and o.deleted_at is null)
      returning label`,
  );
  return rows[0]?.label;
}

/** The name of one that is deleted and still there. */
export async function deletedField(db: Db, id: number): Promise<string | undefined> {
  const [row] = await db
    .select({ label: ownFields.label })
    .from(ownFields)
    .where(and(eq(ownFields.id, id), isNotNull(ownFields.deletedAt)));
  return row?.label;
}

/** Where the value of a field is kept, as text. */
const kept = (key: string): SQL =>
  isBuiltIn(key) ? sql.raw(`c.${key}`) : sql`c.fields ->> ${key}`;

export async function countFilled(db: Db, key: string): Promise<number> {
  const { rows } = await execute<{ count: number }>(
    db,
    sql`select count(*) as count from ${contacts} c where c.deleted_at is null and ${kept(key)} is not null`,
  );
  return rows[0]?.count ?? 0;
}

/** What is kept in an own field by the next people after a contact key, each value once, with how many of them have it. */
export async function keptValues(
  db: Db,
  key: string,
  after: ContactId,
  limit: number,
): Promise<{ last: ContactId | null; values: readonly { value: FieldValue; count: number }[] }> {
  const { rows } = await execute<{
    last: ContactId | null;
    values: { value: FieldValue; count: number }[] | null;
  }>(
    db,
    sql`with stretch as materialized (select c.id, c.fields -> ${key} as value from ${contacts} c
        where c.deleted_at is null and c.fields ? ${key} and c.id > ${after} order by c.id limit ${limit})
      select (select max(id) from stretch) as last, (select jsonb_agg(jsonb_build_object('value', value, 'count', count))
        from (select value, count(*) as count from stretch group by value) v) as values`,
  );
  return { last: rows[0]?.last ?? null, values: rows[0]?.values ?? [] };
}

/** A field that can't be brought back any more goes from the people, so many at a time; then for good. False when there is none. */
export async function purgeField(db: Db, before: Date, limit: number): Promise<boolean> {
  const [row] = await db
    .select({ id: ownFields.id })
    .from(ownFields)
    .where(and(isNull(ownFields.builtIn), lt(ownFields.deletedAt, before)))
    .limit(1);
  if (!row) return false;
  const key = ownKey(row.id);
  const { rows } = await execute<{ id: ContactId }>(
    db,
    sql`update ${contacts} set fields = fields - ${key}::text, keys = keys - ${key}::text
      where id in (select id from ${contacts} where fields ? ${key} or keys ? ${key} limit ${limit}) returning id`,
  );
  if (rows.length < limit) await db.delete(ownFields).where(eq(ownFields.id, row.id));
  return true;
}
