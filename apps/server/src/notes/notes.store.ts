import type { ContactId } from '@palabra/core/contacts';
import type { RichText } from '@palabra/core/letters';
import { type NoteId, type NoteKind } from '@palabra/core/notes';
import type { UserId } from '@palabra/core/office';
import { and, eq, sql, type SQL } from 'drizzle-orm';
import { writeLastContact } from '../contacts/index.js';
import { contacts } from '../contacts/people/people.table.js';
import { deliveries } from '../delivery/delivery.table.js';
import { execute, type Db } from '../platform/database.js';
import { users } from '../platform/sign-in/sign-in.table.js';
import { notes, notesTold, tasks } from './notes.table.js';

export type Note = typeof notes.$inferSelect;

export interface NoteRow extends Record<string, unknown> {
  readonly id: NoteId;
  readonly version: number;
  readonly contact_id: ContactId;
  readonly user_id: UserId;
  readonly by: string;
  readonly kind: NoteKind;
  readonly text: RichText;
  readonly at: Date;
  readonly pinned: boolean;
  readonly told: readonly { readonly id: number; readonly name: string }[];
}

const columns = sql`n.id, n.version, n.contact_id, n.user_id, u.name as by, n.kind, n.text, n.at, n.pinned,
  coalesce((select jsonb_agg(jsonb_build_object('id', t.user_id, 'name', w.name) order by w.name) from ${notesTold} t join ${users} w on w.id = t.user_id where t.note_id = n.id), '[]') as told`;
const from = sql`${notes} n join ${users} u on u.id = n.user_id`;

const notesWhere = async (db: Db, condition: SQL, limit: number): Promise<NoteRow[]> => {
  const { rows } = await execute<NoteRow>(
    db,
    sql`select ${columns} from ${from} where n.deleted_at is null and ${condition} order by n.at desc, n.id desc limit ${limit}`,
  );
  return rows;
};

export const noteRows = (db: Db, ids: readonly NoteId[]): Promise<NoteRow[]> =>
  ids.length === 0
    ? Promise.resolve([])
    : notesWhere(db, sql`n.id = any(${sql.param([...ids])}::int[])`, ids.length);

export const pinnedNotes = (db: Db, contactId: ContactId, limit: number): Promise<NoteRow[]> =>
  notesWhere(db, sql`n.contact_id = ${contactId} and n.pinned`, limit);

/** Notes that somebody was told of and has not seen, of people they see: `seen` is a condition on `contacts c`. */
export const notesToSee = (db: Db, userId: UserId, seen: SQL, limit: number): Promise<NoteRow[]> =>
  notesWhere(
    db,
    sql`n.id in (select note_id from ${notesTold} where user_id = ${userId} and seen_at is null)
      and exists (select 1 from ${contacts} c where c.id = n.contact_id and c.deleted_at is null and ${seen})`,
    limit,
  );

export async function addNote(
  db: Db,
  note: Pick<Note, 'contactId' | 'userId' | 'kind' | 'text' | 'at' | 'pinned'>,
): Promise<NoteId> {
  const [row] = await db.insert(notes).values(note).returning({ id: notes.id });
  if (!row) throw new Error('the note was not written');
  return row.id;
}

export async function lockNote(db: Db, id: NoteId): Promise<Note | undefined> {
  const [row] = await db.select().from(notes).where(eq(notes.id, id)).for('update');
  return row;
}

export const changeNote = async (
  db: Db,
  id: NoteId,
  values: Pick<Note, 'kind' | 'text' | 'pinned'>,
): Promise<void> => {
  await db
    .update(notes)
    .set({ ...values, version: sql`version + 1` })
    .where(eq(notes.id, id));
};

export const setNoteDeleted = async (db: Db, id: NoteId, at: Date | null): Promise<void> => {
  await db
    .update(notes)
    .set({ deletedAt: at, version: sql`version + 1` })
    .where(eq(notes.id, id));
};

/** Who is told of a note; whoever was already has seen it or not. */
export async function tell(db: Db, noteId: NoteId, ids: readonly UserId[]): Promise<void> {
  const wanted = sql`${sql.param([...ids])}::int[]`;
  await execute(
    db,
    sql`delete from ${notesTold} where note_id = ${noteId} and not user_id = any(${wanted})`,
  );
  await execute(
    db,
    sql`insert into ${notesTold} (note_id, user_id) select ${noteId}::int, id from ${users} where id = any(${wanted}) on conflict do nothing`,
  );
}

export const seeNote = async (db: Db, noteId: NoteId, userId: UserId, at: Date): Promise<void> => {
  await db
    .update(notesTold)
    .set({ seenAt: at })
    .where(and(eq(notesTold.noteId, noteId), eq(notesTold.userId, userId)));
};

/** The latest of a note of a call or meeting, a task done, and a reply. */
export const recountLastContact = (db: Db, id: ContactId): Promise<void> =>
  writeLastContact(
    db,
    id,
    sql`greatest(
      (select max(at) from ${notes} where contact_id = ${id} and kind <> 'note' and deleted_at is null),
      (select max(done_at) from ${tasks} where contact_id = ${id} and deleted_at is null),
      (select max(replied_at) from ${deliveries} where contact_id = ${id}))`,
  );

/** About whom there is something to keep: a condition on `contacts c`. */
export const hasNotes = sql`(exists (select 1 from ${notes} n where n.contact_id = c.id and n.deleted_at is null)
  or exists (select 1 from ${tasks} t where t.contact_id = c.id and t.deleted_at is null))`;

/** Forgets what was deleted before then. */
export async function purge(db: Db, before: Date): Promise<void> {
  await execute(db, sql`delete from ${notes} where deleted_at < ${before}`);
  await execute(db, sql`delete from ${tasks} where deleted_at < ${before}`);
  await execute(
    db,
    sql`delete from ${notesTold} t where not exists (select 1 from ${notes} n where n.id = t.note_id)`,
  );
}
