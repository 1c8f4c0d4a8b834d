// The one place that says who sees whom, and who says whose people are.
import { splitKeys } from '@palabra/core/contacts';
import { seesEverybody, type UserId, type Viewer } from '@palabra/core/office';
import { sql, type SQL } from 'drizzle-orm';
import type { ContactRow } from './values.js';

type Belonging = Pick<ContactRow, 'ownerId' | 'sharedWith'>;

/** Those whom somebody owns; a coordinator stands for every owner. A condition on `contacts c`. */
export const owned = (viewer: Viewer): SQL =>
  seesEverybody(viewer.role) ? sql`true` : sql`c.owner_id = ${viewer.userId}`;

export const owns = (viewer: Viewer, { ownerId }: Belonging): boolean =>
  seesEverybody(viewer.role) || ownerId === viewer.userId;

/** Members see the people they own and those that are shared with them. A condition on `contacts c`. */
export const scope = (viewer: Viewer): SQL =>
  seesEverybody(viewer.role) ? sql`true` : seenBy(viewer.userId);

/** A member's own people and those that are shared with them. A condition on `contacts c`. */
export const seenBy = (userId: UserId): SQL =>
  sql`(c.owner_id = ${userId} or (c.shared_with is not null and string_to_array(c.shared_with, ',') @> ${sql.param([String(userId)])}::text[]))`;

export const sees = (viewer: Viewer, person: Belonging): boolean =>
  owns(viewer, person) || splitKeys(person.sharedWith ?? '').includes(String(viewer.userId));
