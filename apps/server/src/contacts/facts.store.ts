// Facts about a contact that deliveries and events add to; rebuildable from them.
import { sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';

export const countSent = async (db: Db, contactId: number, at: Date): Promise<void> => {
  await execute(db, sql`update contacts set sent_count = sent_count + 1, last_sent_at = greatest(last_sent_at, ${at}) where id = ${contactId}`);
};

export interface ResponseFact {
  readonly contactId: number;
  /** Letters opened or clicked for the first time, and when it last happened. */
  readonly newlyOpened: number;
  readonly newlyClicked: number;
  readonly openedAt: Date | null;
  readonly clickedAt: Date | null;
}

/** Adds a group of responses by people in one statement. */
export async function countResponses(db: Db, facts: readonly ResponseFact[]): Promise<void> {
  if (facts.length === 0) return;
  await execute(db, sql`
    update contacts c set
      opened_count = c.opened_count + f.opened, clicked_count = c.clicked_count + f.clicked,
      last_opened_at = greatest(c.last_opened_at, f.opened_at), last_clicked_at = greatest(c.last_clicked_at, f.clicked_at)
    from jsonb_to_recordset(${JSON.stringify(facts.map((fact) => ({ id: fact.contactId, opened: fact.newlyOpened, clicked: fact.newlyClicked, opened_at: fact.openedAt, clicked_at: fact.clickedAt })))}::jsonb)
      as f(id int, opened int, clicked int, opened_at timestamptz, clicked_at timestamptz)
    where c.id = f.id`);
}
