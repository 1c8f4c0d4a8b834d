import type { PlaceKind } from '@palabra/core/contacts';
import { doublePrecision, index, integer, pgTable, text } from 'drizzle-orm/pg-core';
import { keyText } from '../../platform/columns.js';

/** What countries are called, by search key, with their code (ISO 3166): written with each file of places. */
export const placeCountries = pgTable('place_countries', {
  key: keyText().primaryKey(),
  code: text().notNull(),
});

/** One row while everybody is looked up behind a file of places. */
export const placings = pgTable('placings', {
  id: integer().primaryKey(),
  /** The places up to this key are of the file before, and go first. */
  older: integer().notNull(),
  /** The contact up to whom everybody is looked up. */
  cursor: integer().notNull(),
});

/** The gazetteer: towns and postcodes with where they are, as they were loaded from a file. */
export const places = pgTable(
  'places',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    kind: text().$type<PlaceKind>().notNull(),
    name: text().notNull(),
    key: keyText().notNull(),
    region: text().notNull(),
    regionKey: keyText().notNull(),
    country: text().notNull(),
    lat: doublePrecision().notNull(),
    lon: doublePrecision().notNull(),
    people: integer().notNull(),
  },
  (table) => [index('places_by_key').on(table.key, table.kind)],
);
