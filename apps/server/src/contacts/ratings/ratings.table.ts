import type { ContactId, RatingScale } from '@palabra/core/contacts';
import { integer, jsonb, pgTable, smallint, timestamp } from 'drizzle-orm/pg-core';

/** How the ratings of the last days went; written when one of them changes, not every day. */
export const ratingCourses = pgTable('rating_courses', {
  contactId: integer().$type<ContactId>().primaryKey(),
  countedAt: timestamp({ withTimezone: true }).notNull(),
  /** A day before it was counted, two days and so on. Since then the rating is what it is on the contact. */
  points: smallint().array().$type<(number | null)[]>().notNull(),
});

/** One row: by which scale people are rated, how far the count of everybody is, and the check of what is counted. */
export const ratingScales = pgTable('rating_scales', {
  id: integer().primaryKey(),
  /** Null for the standard. */
  scale: jsonb().$type<RatingScale>(),
  version: integer().notNull().default(1),
  /** The contact up to whom everybody is counted; null when nothing is being counted. */
  cursor: integer(),
  /** When everybody was counted last. */
  countedAt: timestamp({ withTimezone: true }),
  /** The contact up to whom what is kept of people was checked; null when nothing is being checked. */
  checkCursor: integer(),
  /** When everybody was checked last. */
  checkedAt: timestamp({ withTimezone: true }),
  /** Whose figures were not as it happened, in the check that is under way or was the last. */
  wrongCount: integer().notNull().default(0),
});
