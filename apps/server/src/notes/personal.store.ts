import type { ContactId } from '@palabra/core/contacts';
import type { RichText } from '@palabra/core/letters';
import type { NoteKind, TaskKind } from '@palabra/core/notes';
import { sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';
import { users } from '../platform/sign-in/sign-in.table.js';
import { notes, notesTold, tasks } from './notes.table.js';

const ids = (people: readonly ContactId[]) => sql`any(${sql.param([...people])}::int[])`;

interface NoteAbout extends Record<string, unknown> {
  readonly at: Date;
  readonly kind: NoteKind;
  readonly by: string;
  readonly text: RichText;
}

/** All notes about some people, deleted ones that are still kept, too; latest first. */
export async function notesAbout(db: Db, people: readonly ContactId[]): Promise<NoteAbout[]> {
  const { rows } = await execute<NoteAbout>(
    db,
    sql`select n.at, n.kind, n.text, u.name as by from ${notes} n join ${users} u on u.id = n.user_id where n.contact_id = ${ids(people)} order by n.at desc, n.id desc`,
  );
  return rows;
}

interface TaskFor extends Record<string, unknown> {
  readonly created_at: Date;
  readonly kind: TaskKind;
  readonly assignee: string;
  readonly text: string;
  /** `YYYY-MM-DD`. */
  readonly due: string | null;
}

export async function tasksFor(db: Db, people: readonly ContactId[]): Promise<TaskFor[]> {
  const { rows } = await execute<TaskFor>(
    db,
    sql`select t.created_at, t.kind, t.text, t.due::text as due, u.name as assignee from ${tasks} t join ${users} u on u.id = t.user_id where t.contact_id = ${ids(people)} order by t.created_at desc, t.id desc`,
  );
  return rows;
}

export async function dropNotes(tx: Db, people: readonly ContactId[]): Promise<void> {
  await execute(
    tx,
    sql`delete from ${notesTold} t using ${notes} n where n.id = t.note_id and n.contact_id = ${ids(people)}`,
  );
  await execute(tx, sql`delete from ${notes} where contact_id = ${ids(people)}`);
}

export const dropTasks = async (tx: Db, people: readonly ContactId[]): Promise<void> => {
  await execute(tx, sql`delete from ${tasks} where contact_id = ${ids(people)}`);
};
