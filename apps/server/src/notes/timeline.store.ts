// Where notes and tasks stand on a person's timeline: a note when it was written, a task when it was done; what is still to do is kept in sight over it.
import type { ContactId } from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';
import { notes, tasks } from './notes.table.js';

const rest = sql`null::int as campaign_id, null::text as campaign, null::text as state, null::text as detail, null::text as who, null::jsonb as more`;

export const notesOf = (contactId: ContactId): SQL =>
  sql`select 'note' as kind, 'n' || id as key, at, ${rest} from ${notes} where contact_id = ${contactId} and deleted_at is null`;

export const tasksOf = (contactId: ContactId): SQL =>
  sql`select 'task' as kind, 't' || id as key, done_at as at, ${rest} from ${tasks} where contact_id = ${contactId} and done_at is not null and deleted_at is null`;
