// Binds a compiled rule to tables: the only place that knows where a field or a tag really is.
import type { MomentKey } from '@palabra/core/contacts';
import { idOf } from '@palabra/core/kernel';
import { addDays, dayBegins } from '@palabra/core/office';
import type { Fragment, Piece, Reference } from '@palabra/core/segments';
import { sql, type SQL } from 'drizzle-orm';
import {
  automaticallyTagged,
  ownValue,
  ratingMoved,
  sinceDay,
  standingOfMany,
} from '../contacts/index.js';
import { contactTags } from '../contacts/people/people.table.js';
import { seenBy } from '../contacts/index.js';
import { inPools } from './members.store.js';
import { near } from './place.store.js';
import { lettersOf, lettersSoFar, theirLetters } from './letters.store.js';
import { segmentMembers } from './segments.table.js';
import { doNotMail, droppedTopics } from '../contacts/standing/standing.table.js';

/** Contact keys above `after` and up to `upTo`. */
export interface Stretch {
  readonly after: number;
  readonly upTo: number;
}

/** A condition on `contacts c`; with a stretch it is right for contacts within it only, and looks at no tag of others. */
export const bindRule = (fragment: Fragment, timeZone: string, within?: Stretch): SQL =>
  sql.join(fragment.map((piece) => bindPiece(piece, timeZone, within)));

/** A query of `contact_id`; see core's `among`. */
export const bindQuery = (query: Fragment, timeZone: string, within?: Stretch): SQL =>
  sql`select contact_id from ${bindRule(query, timeZone, within)}`;

function bindPiece(piece: Piece, timeZone: string, within: Stretch | undefined): SQL {
  if (typeof piece === 'string') return sql.raw(piece);
  if ('ref' in piece) return bindReference(piece.ref, timeZone, within);
  if ('day' in piece)
    return sql`${dayBegins(timeZone, piece.edge === 'begins' ? piece.day : addDays(piece.day, 1))}::timestamptz`;
  if ('zone' in piece) return sql`${timeZone}`;
  const bound = (inner: Fragment): SQL => bindRule(inner, timeZone, within);
  if ('among' in piece) return sql`c.id in (${bindQuery(piece.among, timeZone, within)})`;
  if ('not' in piece) return sql`not (${bound(piece.not)})`;
  if ('oneByOne' in piece) return sql`coalesce(${bound(piece.oneByOne)}, false)`;
  return sql`${sql.param(piece.param)}::${sql.raw(piece.type)}`;
}

const momentOf: { readonly [K in MomentKey]: SQL } = {
  came_in: sql`c.created_at`,
  changed: sql`c.updated_at`,
  last_letter: sql`c.last_sent_at`,
  last_response: sql`greatest(c.last_opened_at, c.last_clicked_at)`,
  last_contact: sql`c.last_contact_at`,
};

function bindReference(ref: Reference, timeZone: string, within: Stretch | undefined): SQL {
  switch (ref.of) {
    case 'key':
      return ref.field === 'address' ? sql`c.address_key` : sql`(c.keys ->> ${ref.field})`;
    case 'keys':
      return sql`c.keys`;
    case 'phone digits':
      return sql`regexp_replace(c.${sql.raw(ref.field)}, E'[^0-9\\n]', '', 'g')`;
    case 'shown address':
      return sql`(c.keys ->> 'address')`;
    case 'contact':
      switch (ref.field) {
        case 'owner':
          return sql`c.owner_id::text`;
        case 'shared_with':
          return sql`c.shared_with`;
        case 'permission':
          return sql`c.permission`;
        case 'rating':
          return sql`c.rating`;
        case 'band':
          return sql`c.band`;
        case 'closeness':
          return sql`c.closeness`;
        case 'stage':
          return sql`c.stage`;
        case 'source':
          return sql`c.source`;
      }
      break;
    case 'moment':
      return momentOf[ref.field];
    case 'own':
      return ownValue(ref.field, ref.as);
    case 'since':
      return sinceDay(
        typeof ref.day === 'string'
          ? sql`to_char(${momentOf[ref.day]} at time zone ${timeZone}, 'YYYY-MM-DD')`
          : ownValue(ref.day.own, 'day'),
        ref.unit,
        ref.today,
      );
    case 'contact id':
      return sql`c.id`;
    case 'address hash':
      return sql`c.address_hash`;
    case 'standing':
      return sql`(${standingOfMany})`;
    case 'tag':
      return within
        ? sql`(select contact_id, tag_id from ${contactTags} where contact_id > ${within.after} and contact_id <= ${within.upTo}) tagged_within`
        : sql`contact_tags`;
    case 'automatic tag':
      return automaticallyTagged[ref.tag];
    case 'rating move':
      return ratingMoved({ ...ref, timeZone });
    case 'tag put on':
      return sql`(select contact_id, tag_id, at from ${contactTags}
        where at is not null ${within ? sql`and contact_id > ${within.after} and contact_id <= ${within.upTo}` : sql``}) put_on`;
    case 'letters':
      return lettersOf(ref, within);
    case 'their letters':
      return theirLetters(ref);
    case 'letters so far':
      return lettersSoFar(ref.did);
    case 'near':
      return near(ref);
    case 'in pools':
      return inPools(ref.pools);
    case 'listed in':
      return sql`c.id in (select contact_id from ${segmentMembers} where segment_id = ${ref.segment} and taken_at is null)`;
    case 'seen by':
      return seenBy(idOf(ref.user));
    case 'do not mail':
      return sql`${doNotMail}`;
    case 'dropped topic':
      return sql`${droppedTopics}`;
  }
}
