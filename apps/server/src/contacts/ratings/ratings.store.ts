// Ratings as they are kept: who is to be counted, what is written, what is asked of them.
import { RISEN_BY, type Band, type ContactId, type RatingScale } from '@palabra/core/contacts';
import { and, eq, sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { contacts } from '../people/people.table.js';
import { doNotMail } from '../standing/standing.table.js';
import { ratingCourses, ratingScales } from './ratings.table.js';

export type ScaleRow = typeof ratingScales.$inferSelect;

export async function scaleRow(db: Db): Promise<ScaleRow> {
  const [row] = await db.select().from(ratingScales).where(eq(ratingScales.id, 1));
  if (!row) throw new Error('there is no scale of ratings');
  return row;
}

/** The same, which nobody else goes on with until the transaction ends. */
export async function lockScale(db: Db): Promise<ScaleRow> {
  const [row] = await db.select().from(ratingScales).where(eq(ratingScales.id, 1)).for('update');
  if (!row) throw new Error('there is no scale of ratings');
  return row;
}

/** Everybody is counted anew; undefined when another version is there now. */
export async function changeScale(
  db: Db,
  version: number,
  scale: RatingScale,
): Promise<ScaleRow | undefined> {
  const [row] = await db
    .update(ratingScales)
    .set({ scale, version: sql`version + 1`, cursor: 0 })
    .where(and(eq(ratingScales.id, 1), eq(ratingScales.version, version)))
    .returning();
  return row;
}

export const noteCount = async (
  db: Db,
  progress: Partial<
    Pick<ScaleRow, 'cursor' | 'countedAt' | 'checkCursor' | 'checkedAt' | 'wrongCount'>
  >,
): Promise<void> => {
  await db.update(ratingScales).set(progress).where(eq(ratingScales.id, 1));
};

/** Who left or complained has no rating any more. A condition on `contacts c`. */
const ended = sql`exists (select 1 from ${doNotMail} d where d.address_hash = c.address_hash and d.reason in ('left', 'complained'))`;

export interface RatedPerson extends Record<string, unknown> {
  readonly id: ContactId;
  readonly rating: number | null;
  readonly band: Band | null;
  readonly ended: boolean;
  readonly high: number | null;
  readonly low: number | null;
}

/** The next people of some (a condition on `contacts c`) after a key, in the order of their keys; `lock` keeps them as they are. */
export async function peopleToRate(
  db: Db,
  which: SQL,
  after: number,
  limit: number,
  lock: boolean,
): Promise<RatedPerson[]> {
  const { rows } = await execute<RatedPerson>(
    db,
    sql`
    select c.id, c.rating, c.band, c.rating_high as high, c.rating_low as low, ${ended} as ended from ${contacts} c
    where ${which} and c.id > ${after} and c.deleted_at is null order by c.id limit ${limit} ${lock ? sql`for no key update of c` : sql``}`,
  );
  return rows;
}

/**
 * A query for some people: `among` is a condition on a contact's key. The letters that people are rated by, `contact_id, letters`, are told in one text, as short as it goes, because
 * a recount reads millions: minutes since 1970 of the arrival, then those of the first opening, click and reply where there
 * was any, such as `29500000;29550000:29550007,,29560000`.
 */
export type LettersQuery = (among: (contact: SQL) => SQL) => SQL;

export interface LettersRow extends Record<string, unknown> {
  readonly contact_id: ContactId;
  readonly letters: string;
}

/** The letters of some people, by keys in their order. */
export async function lettersBy(
  db: Db,
  query: LettersQuery,
  ids: readonly ContactId[],
): Promise<LettersRow[]> {
  const { rows } = await execute<LettersRow>(db, query(oneOf(ids)));
  return rows;
}

/** Those between are looked at, too, where there are few. */
function oneOf(ids: readonly ContactId[]): (contact: SQL) => SQL {
  const [first = 0, last = 0] = [ids[0], ids.at(-1)];
  return last - first < 2 * ids.length
    ? (contact) => sql`${contact} between ${first} and ${last}`
    : (contact) => sql`${contact} = any(${sql.param([...ids])}::int[])`;
}

/** Conditions on `contacts c`. */
export const anybody = sql`true`;
export const isFading = sql`c.band = 'fading'`;
export const isDue = sql`c.rating_due`;

export async function isAnybodyDue(db: Db): Promise<boolean> {
  const { rows } = await execute(
    db,
    sql`select 1 from ${contacts} c where ${isDue} and c.deleted_at is null limit 1`,
  );
  return rows.length > 0;
}

export interface Rated {
  readonly id: ContactId;
  readonly rating: number | null;
  readonly band: Band | null;
  readonly high: number | null;
  readonly low: number | null;
  /** A day ago, two days ago and so on. */
  readonly points: readonly (number | null)[];
}

/** The columns of the last letters from a row `r` of their query, if there is one. */
const recentLettersSet = sql`recent_letters = coalesce(r.letters, 0), recent_accepted = coalesce(r.accepted, 0),
  recent_opened = coalesce(r.opened, 0), recent_clicked = coalesce(r.clicked, 0), recent_bounced = coalesce(r.bounced, 0)`;

/**
 * `recent`: their last letters are written, too, and nothing is due any more. Only where they were locked before their
 * letters were read, so that nothing happened since that is not counted.
 */
export async function writeRatings(
  db: Db,
  rated: readonly Rated[],
  now: Date,
  recent: LettersQuery | undefined,
): Promise<void> {
  if (rated.length === 0) return;
  const own = <K extends keyof Rated>(key: K) => sql.param(rated.map((one) => one[key]));
  const [settled, letters] = recent
    ? [
        sql`, rating_due = false, ${recentLettersSet}`,
        sql`left join (${recent(oneOf(rated.map(({ id }) => id)))}) r on r.contact_id = u.id`,
      ]
    : [sql``, sql``];
  await execute(
    db,
    sql`
    update ${contacts} c set rating = u.rating, band = u.band, rating_high = u.high, rating_low = u.low${settled}
    from unnest(${own('id')}::int[], ${own('rating')}::smallint[], ${own('band')}::text[], ${own('high')}::smallint[], ${own('low')}::smallint[])
      u(id, rating, band, high, low) ${letters} where c.id = u.id`,
  );
  // Arrays of one length only go into an array of arrays; as texts they may differ.
  await execute(
    db,
    sql`
    insert into ${ratingCourses} as r (contact_id, counted_at, points) select id, ${now}::timestamptz, points::smallint[]
    from unnest(${own('id')}::int[], ${sql.param(rated.map(({ points }) => `{${points.map((one) => one ?? 'null').join(',')}}`))}::text[]) u(id, points)
    on conflict (contact_id) do update set counted_at = excluded.counted_at, points = excluded.points`,
  );
}

/** Writes the last letters of all people with keys up to another, with whom nothing happens meanwhile. */
export const writeRecentLetters = async (
  db: Db,
  recent: LettersQuery,
  after: number,
  upTo: number,
): Promise<void> => {
  const query = recent((contact) => sql`${contact} > ${after} and ${contact} <= ${upTo}`);
  await execute(
    db,
    sql`update ${contacts} c set rating_due = false, ${recentLettersSet} 
    from ${contacts} me left join (${query}) r on r.contact_id = me.id where me.id > ${after} and me.id <= ${upTo} and c.id = me.id`,
  );
};

/** How many are in each band; null is nobody's: of those who left or complained. */
export async function bandCounts(
  db: Db,
  people: SQL,
): Promise<{ band: Band | null; count: number }[]> {
  const { rows } = await execute<{ band: Band | null; count: number }>(
    db,
    sql`select c.band, count(*)::int as count from ${contacts} c where ${people} group by c.band`,
  );
  return rows;
}

export interface CourseRow extends Record<string, unknown> {
  readonly counted_at: Date;
  readonly points: (number | null)[];
}

export async function courseOf(db: Db, id: ContactId): Promise<CourseRow | undefined> {
  const { rows } = await execute<CourseRow>(
    db,
    sql`select counted_at, points from ${ratingCourses} where contact_id = ${id}`,
  );
  return rows[0];
}

/** The rating on each of the last days, today first; since it was counted it is what it is now. */
export async function knownCourse(
  db: Db,
  id: ContactId,
  today: string,
  timeZone: string,
): Promise<(number | null)[]> {
  const { rows } = await execute<{
    rating: number | null;
    since: number;
    points: (number | null)[];
  }>(
    db,
    sql`select c.rating, ${today}::date - (r.counted_at at time zone ${timeZone})::date as since, r.points
      from ${contacts} c join ${ratingCourses} r on r.contact_id = c.id where c.id = ${id}`,
  );
  const [row] = rows;
  if (!row) return [];
  return [...new Array<number | null>(Math.max(0, row.since) + 1).fill(row.rating), ...row.points];
}

interface Move {
  readonly way: 'rose' | 'fell';
  readonly by: number;
  readonly days: number;
  readonly today: string;
  readonly timeZone: string;
}

/** The part of a course that is of the last days until today; those since it was counted are as the rating is now. */
const lately = (days: number, today: string, timeZone: string): SQL =>
  sql`r.points[1:greatest(0, ${days}::int - (${today}::date - (r.counted_at at time zone ${timeZone})::date))]`;

/** From where a rating rose or fell within some days: an expression on `contacts c` and `rating_courses r`. */
const from = ({ way, days, today, timeZone }: Move): SQL =>
  sql`(select ${sql.raw(way === 'rose' ? 'min' : 'max')}(p) from unnest(${lately(days, today, timeZone)}) p)`;

const far = (way: 'rose' | 'fell', there: SQL): SQL =>
  way === 'rose' ? sql`c.rating - ${there}` : sql`${there} - c.rating`;

/** Those who rose, or fell, so far from the lowest, or highest, of all days that are kept, as they were counted last: nobody's course is looked at. */
const wentFar = (way: 'rose' | 'fell', by: number): SQL =>
  sql`${far(way, sql.raw(way === 'rose' ? 'c.rating_low' : 'c.rating_high'))} >= ${by}::int`;

/** The highest or lowest of all days that are kept is asked first: few moved so far at all. */
const mayHave = ({ way, by }: Move): SQL => wentFar(way, by);

/** Whether a rating moved so far. A condition on `contacts c`. */
export const ratingMoved = (move: Move): SQL =>
  sql`(coalesce(${mayHave(move)}, false) and exists (select 1 from ${ratingCourses} r
    where r.contact_id = c.id and ${far(move.way, from(move))} >= ${move.by}::int))`;

/** Who rose lately: a condition on `contacts c`. */
export const haveRisen: SQL = wentFar('rose', RISEN_BY);

export interface MovedRow extends Record<string, unknown> {
  readonly id: ContactId;
  readonly given_name: string;
  readonly family_name: string;
  readonly address: string | null;
  readonly rating: number;
  readonly was: number;
  /** How many there are in all. */
  readonly all: number;
}

/** Those of some people whose rating went farthest. */
export async function movedMost(
  db: Db,
  people: SQL,
  way: 'rose' | 'fell',
  limit: number,
): Promise<MovedRow[]> {
  const was = sql.raw(way === 'rose' ? 'c.rating_low' : 'c.rating_high');
  const { rows } = await execute<MovedRow>(
    db,
    sql`
    select c.id, c.given_name, c.family_name, c.address, c.rating, ${was} as was, (count(*) over ())::int as all from ${contacts} c
    where ${people} order by ${far(way, was)} desc nulls last, c.search_key, c.id limit ${limit}`,
  );
  return rows;
}
