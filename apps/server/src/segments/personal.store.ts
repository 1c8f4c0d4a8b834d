import type { Rule } from '@palabra/core/segments';
import { inArray, sql } from 'drizzle-orm';
import { namesOneOf } from '../contacts/index.js';
import { execute, type Db } from '../platform/database.js';
import { filters, segments, segmentVersions, views } from './segments.table.js';

interface Naming {
  readonly kind: string;
  readonly name: string;
  /** Of a filter. */
  readonly key: string | null;
  readonly rule: Rule;
}

/** What may ask for one of some addresses: an address may be part of a longer one. */
export async function rulesNaming(db: Db, addresses: readonly string[]): Promise<Naming[]> {
  const { rows } = await execute<Naming & Record<string, unknown>>(
    db,
    sql`
    select 'segment' as kind, s.name, null as key, s.rule from ${segments} s where ${namesOneOf(sql`s.rule`, addresses)}
    union all select 'draft of the segment', s.name, null, s.draft_rule from ${segments} s where ${namesOneOf(sql`s.draft_rule`, addresses)}
    union all select 'earlier rule of the segment', s.name, null, v.rule from ${segmentVersions} v join ${segments} s on s.id = v.segment_id where ${namesOneOf(sql`v.rule`, addresses)}
    union all select 'view', w.name, null, w.rule from ${views} w where ${namesOneOf(sql`w.rule`, addresses)}
    union all select 'filter', 'of a list', f.key, f.rule from ${filters} f where ${namesOneOf(sql`f.rule`, addresses)}`,
  );
  return rows;
}

export const dropFilters = async (tx: Db, keys: readonly string[]): Promise<void> => {
  await tx.delete(filters).where(inArray(sql`${filters.key}`, [...keys]));
};
