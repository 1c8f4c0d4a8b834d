// Binds a compiled rule to tables: the only place that knows where a field or a tag really is.
import type { Fragment, Piece, Reference } from '@palabra/core/segments';
import { sql, type SQL } from 'drizzle-orm';
import { contactTags } from '../contacts/people/people.table.js';

/** Contact keys above `after` and up to `upTo`. */
export interface Stretch {
  readonly after: number;
  readonly upTo: number;
}

/** A condition on `contacts c`; with a stretch it is right for contacts within it only, and looks at no tag of others. */
export const bindRule = (fragment: Fragment, timeZone: string, within?: Stretch): SQL =>
  sql.join(fragment.map((piece) => bindPiece(piece, timeZone, within)));

function bindPiece(piece: Piece, timeZone: string, within: Stretch | undefined): SQL {
  if (typeof piece === 'string') return sql.raw(piece);
  if ('ref' in piece) return bindReference(piece.ref, timeZone, within);
  if ('day' in piece)
    return sql`((${piece.day}::date + ${sql.raw(piece.edge === 'begins' ? '0' : '1')})::timestamp at time zone ${timeZone})`;
  return sql`${sql.param(piece.param)}::${sql.raw(piece.type)}`;
}

function bindReference(ref: Reference, timeZone: string, within: Stretch | undefined): SQL {
  switch (ref.of) {
    case 'key':
      return ref.field === 'address' ? sql`c.address_key` : sql`(c.keys ->> ${ref.field})`;
    case 'keys':
      return sql`c.keys`;
    case 'contact':
      switch (ref.field) {
        case 'owner':
          return sql`c.owner_id::text`;
        case 'permission':
          return sql`c.permission`;
        case 'came_in':
          return sql`(c.created_at at time zone ${timeZone})::date`;
      }
      break;
    case 'moment':
      return sql`c.created_at`;
    case 'own':
      return ref.as === 'number'
        ? sql`(c.fields ->> ${ref.field})::numeric`
        : sql`(c.fields ->> ${ref.field})`;
    case 'contact id':
      return sql`c.id`;
    case 'tag':
      return within
        ? sql`(select contact_id, tag_id from ${contactTags} where contact_id > ${within.after} and contact_id <= ${within.upTo}) tagged_within`
        : sql`contact_tags`;
  }
}
