import { outboxSteps, type MailKind, type OutboxStep, type MailId } from '@palabra/core/delivery';
import { and, eq, inArray, lt, or, sql } from 'drizzle-orm';
import type { Db } from '../platform/database.js';
import { outbox } from './delivery.table.js';

export type OutboxMail = typeof outbox.$inferSelect;

export async function addMail(
  db: Db,
  mail: {
    readonly kind: MailKind;
    readonly address: string | null;
    readonly subject: string;
    readonly text: string;
    readonly createdAt: Date;
  },
): Promise<MailId> {
  const [row] = await db
    .insert(outbox)
    .values({ ...mail, nextAt: mail.createdAt })
    .returning({ id: outbox.id });
  if (!row) throw new Error('the mail was not written down');
  return row.id;
}

export async function mailById(db: Db, id: MailId): Promise<OutboxMail | undefined> {
  const [row] = await db.select().from(outbox).where(eq(outbox.id, id));
  return row;
}

/** Mails that are due, and those that somebody had in hand. */
export async function mailsToWorkOn(db: Db, now: Date): Promise<MailId[]> {
  const rows = await db
    .select({ id: outbox.id })
    .from(outbox)
    .where(
      and(
        inArray(outbox.state, ['waiting', 'handing over']),
        or(sql`${outbox.nextAt} <= ${now}`, eq(outbox.state, 'handing over')),
      ),
    )
    .orderBy(outbox.nextAt)
    .limit(20);
  return rows.map(({ id }) => id);
}

/** Nobody needs to know any more what such a mail said, or to whom. */
const wiped = { address: null, subject: '', text: '' };

/** Takes a step, unless another one was taken first; false then. What is over is wiped. */
export async function stepMail(
  db: Db,
  id: MailId,
  step: OutboxStep,
  now: Date,
  more: Partial<Pick<OutboxMail, 'attempts' | 'nextAt' | 'answer'>> = {},
): Promise<boolean> {
  const { from, to } = outboxSteps[step];
  const isOver = to === 'sent' || to === 'refused' || to === 'left';
  const rows = await db
    .update(outbox)
    .set({ ...more, state: to, ...(isOver ? { ...wiped, settledAt: now } : {}) })
    .where(and(eq(outbox.id, id), inArray(outbox.state, [...from])))
    .returning({ id: outbox.id });
  return rows.length > 0;
}

/** Forgets what was over long ago. */
export const dropOldMails = async (db: Db, before: Date): Promise<void> => {
  await db.delete(outbox).where(lt(outbox.settledAt, before));
};
