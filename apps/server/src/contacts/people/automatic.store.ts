// Who has an automatic tag: a condition on `contacts c` for each, true or false, by the clock of the database.
import {
  ANSWERED_LATELY,
  automaticTags,
  NEVER_ANSWERED_AFTER,
  NEW_FOR,
  type AutomaticTag,
  type ContactId,
  type DoNotMailReason,
  type TagId,
} from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { doNotMail } from '../standing/standing.table.js';
import { contacts } from './people.table.js';

const onDoNotMail = (reason: DoNotMailReason): SQL =>
  sql`exists (select 1 from ${doNotMail} d where d.address_hash = c.address_hash and d.reason = ${reason})`;
const within = (moment: SQL, days: number): SQL =>
  sql`coalesce(${moment} > now() - make_interval(days => ${days}::int), false)`;

export const automaticallyTagged: { readonly [K in AutomaticTag]: SQL } = {
  left: onDoNotMail('left'),
  bounced: onDoNotMail('hard bounce'),
  'answered lately': within(sql`greatest(c.last_opened_at, c.last_clicked_at)`, ANSWERED_LATELY),
  'never answered': sql`(c.delivered_count >= ${NEVER_ANSWERED_AFTER} and c.opened_count = 0 and c.clicked_count = 0)`,
  new: within(sql`c.created_at`, NEW_FOR),
};

/** The keys of the automatic tags that `contacts c` has. */
export const automaticTagsOf: SQL = sql`array_remove(array[${sql.join(
  automaticTags.map(
    (tag) => sql`case when ${automaticallyTagged[tag.name]} then ${tag.id}::int end`,
  ),
  sql`, `,
)}], null)`;

/** The automatic tags of one person. */
export async function automaticTagIds(db: Db, id: ContactId): Promise<TagId[]> {
  const { rows } = await execute<{ ids: TagId[] }>(
    db,
    sql`select ${automaticTagsOf} as ids from ${contacts} c where c.id = ${id}`,
  );
  return rows[0]?.ids ?? [];
}
