// What letters and mails hold of people, and how it is taken out: that a letter went and what was done with it stays,
// without an address.
import type { ContactId } from '@palabra/core/contacts';
import type { CampaignId } from '@palabra/core/campaigns';
import { eq, sql, type SQL } from 'drizzle-orm';
import { campaigns } from '../campaigns/campaigns.table.js';
import { type Held, type Whose } from '../contacts/index.js';
import { contacts } from '../contacts/people/people.table.js';
import { execute, type Db } from '../platform/database.js';
import {
  deliveries,
  events,
  heldBack,
  outbox,
  readerLinks,
  returnedMail,
} from './delivery.table.js';
import { leadsOn, stateAfter } from './states.store.js';

const isOne = (column: SQL, addresses: readonly string[]): SQL =>
  sql`lower(${column}) = any(${sql.param(addresses.map((one) => one.toLowerCase()))}::text[])`;
const ids = (people: readonly ContactId[]) => sql`any(${sql.param([...people])}::int[])`;

type Line = { readonly at: Date | null; readonly what: string; readonly text: string | null };

const lines = async (db: Db, query: SQL): Promise<Held[]> =>
  (await execute<Line & Record<string, unknown>>(db, query)).rows;

export const lettersHeld = (db: Db, { people }: Whose): Promise<Held[]> =>
  lines(
    db,
    sql`
    select d.accepted_at as at, 'letter “' || k.name || '”' as what, concat_ws(', ', d.state, d.address, d.answer) as text
      from ${deliveries} d join ${campaigns} k on k.id = d.campaign_id where d.contact_id = ${ids(people)}
    union all select k.fixed_at, 'letter “' || k.name || '”', 'held back: ' || h.reason
      from ${heldBack} h join ${campaigns} k on k.id = h.campaign_id where h.contact_id = ${ids(people)}
    union all select e.at, e.kind || ' “' || k.name || '”', case when e.machine then coalesce(e.why, 'a machine') end
      from ${events} e join ${campaigns} k on k.id = e.campaign_id where e.contact_id = ${ids(people)}
    order by at desc nulls last`,
  );

export async function deliveredTo(db: Db, people: readonly ContactId[]): Promise<string[]> {
  const { rows } = await execute<{ address: string }>(
    db,
    sql`select address from ${deliveries} where contact_id = ${ids(people)} and address is not null
      union select address from ${readerLinks} where contact_id = ${ids(people)} and address <> ''`,
  );
  return rows.map(({ address }) => address);
}

/** Letters that still wait are held back. Returns the campaigns whose figures that changes. */
export async function forgetLetters(tx: Db, { people }: Whose): Promise<CampaignId[]> {
  const { rows } = await execute<{ campaign_id: CampaignId }>(
    tx,
    sql`
    update ${deliveries} set state = ${stateAfter('do not mail')}, answer = 'erased', next_at = null
    where contact_id = ${ids(people)} and ${leadsOn('do not mail')} returning campaign_id`,
  );
  await execute(
    tx,
    sql`
    update ${deliveries} set address = null, worker = case when state = 'handing over' then worker end,
      answer = case when state = ${stateAfter('do not mail')} then answer end
    where contact_id = ${ids(people)}`,
  );
  // What a complaint said; why something was a machine's is about the machine.
  await execute(
    tx,
    sql`update ${events} set why = null where contact_id = ${ids(people)} and kind = 'complained'`,
  );
  await execute(tx, sql`delete from ${readerLinks} where contact_id = ${ids(people)}`);
  return rows.map((row) => row.campaign_id);
}

/** The campaign of a letter that is in the mail server's hands. */
export async function inHand(tx: Db, { people }: Whose): Promise<string | undefined> {
  const { rows } = await execute<{ name: string }>(
    tx,
    sql`select k.name from ${deliveries} d join ${campaigns} k on k.id = d.campaign_id where d.contact_id = ${ids(people)} and d.state = 'handing over' limit 1`,
  );
  return rows[0]?.name;
}

const mine = ({ people, addresses }: Whose) =>
  sql`(contact_id = ${ids(people)} or ${isOne(sql`sender`, addresses)})`;

export const returnedHeld = (db: Db, whose: Whose): Promise<Held[]> =>
  lines(
    db,
    sql`select at, kind || case when subject = '' then '' else ' “' || subject || '”' end as what, concat_ws(E'\\n', nullif(sender, ''), nullif(excerpt, ''), diagnosis) as text
      from ${returnedMail} where ${mine(whose)} order by at desc`,
  );

/** That a message came, and which, stays: a mailbox that is read again would bring it in anew. */
export const forgetReturned = async (tx: Db, whose: Whose): Promise<void> => {
  await execute(
    tx,
    sql`update ${returnedMail} set sender = '', subject = '', excerpt = '', diagnosis = null where ${mine(whose)}`,
  );
};

type ReturnedTexts = Pick<
  typeof returnedMail.$inferSelect,
  'id' | 'sender' | 'subject' | 'excerpt' | 'diagnosis'
>;

/** The next messages that name an address, in the order of their keys. */
export const returnedAfter = (db: Db, after: number, limit: number): Promise<ReturnedTexts[]> =>
  db
    .select({
      id: returnedMail.id,
      sender: returnedMail.sender,
      subject: returnedMail.subject,
      excerpt: returnedMail.excerpt,
      diagnosis: returnedMail.diagnosis,
    })
    .from(returnedMail)
    .where(
      sql`${returnedMail.id} > ${after} and strpos(concat(sender, subject, excerpt, diagnosis), '@') > 0`,
    )
    .orderBy(returnedMail.id)
    .limit(limit);

export const rewriteReturned = async (
  db: Db,
  id: number,
  texts: Omit<ReturnedTexts, 'id'>,
): Promise<void> => {
  await db.update(returnedMail).set(texts).where(eq(returnedMail.id, id));
};

export const mailsHeld = (db: Db, { people, addresses }: Whose): Promise<Held[]> =>
  lines(
    db,
    sql`
    select created_at as at, kind || ' “' || subject || '”' as what, concat_ws(', ', address, state) as text from ${outbox} where ${isOne(sql`address`, addresses)}
    union all select null, 'a link to their ' || kind, address || ', until ' || to_char(expires_at, 'YYYY-MM-DD HH24:MI') from ${readerLinks} where contact_id = ${ids(people)} and address <> ''
    order by at desc nulls last`,
  );

/** Mails to them that have not gone out don't; what one to a colleague says of them is taken out of it. */
export async function forgetMails(tx: Db, { addresses, names }: Whose): Promise<void> {
  await execute(
    tx,
    sql`update ${outbox} set address = null, subject = '', text = '', answer = null where ${isOne(sql`address`, addresses)}`,
  );
  for (const name of names)
    await execute(
      tx,
      sql`update ${outbox} set text = replace(text, ${name}, 'somebody who was erased') where strpos(text, ${name}) > 0`,
    );
}

/** Whether nothing of theirs is kept any more. */
export async function isErased(db: Db, contact: ContactId): Promise<boolean> {
  const { rows } = await execute(
    db,
    sql`select 1 from ${contacts} where id = ${contact} and erased_at is not null`,
  );
  return rows.length > 0;
}
