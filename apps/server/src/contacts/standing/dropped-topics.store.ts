// Who does not want which kind of letters. Kept by the hash of the address, so that it outlives the contact.
import type { TopicId } from '@palabra/core/contacts';
import { sql } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { topics } from '../vocabulary/vocabulary.table.js';
import { droppedTopics } from './standing.table.js';

export async function droppedBy(db: Db, addressHash: Buffer): Promise<Set<number>> {
  const { rows } = await execute<{ topic_id: TopicId }>(
    db,
    sql`select topic_id from ${droppedTopics} where address_hash = ${addressHash}`,
  );
  return new Set(rows.map(({ topic_id }) => topic_id));
}

/** Makes the dropped topics of an address exactly these. */
export async function dropTopics(
  db: Db,
  addressHash: Buffer,
  dropped: readonly number[],
  at: Date,
): Promise<void> {
  await execute(
    db,
    sql`delete from ${droppedTopics} where address_hash = ${addressHash} and not topic_id = any(${sql.param(dropped)}::int[])`,
  );
  await execute(
    db,
    sql`insert into ${droppedTopics} (address_hash, topic_id, at) select ${addressHash}, id, ${at} from ${topics} where id = any(${sql.param(dropped)}::int[]) on conflict do nothing`,
  );
}
