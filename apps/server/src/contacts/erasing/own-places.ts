// What this capability keeps of people itself.
import { Injectable, type OnModuleInit } from '@nestjs/common';
import {
  doNotMailWords,
  formatFieldValue,
  lines,
  markedTag,
  permissionWords,
  type ContactId,
  type Field,
  type FieldValue,
} from '@palabra/core/contacts';
import { userById } from '../../platform/sign-in/sign-in.store.js';
import { changeSets, rewrittenTrees } from '../changes/changes.table.js';
import { allFields } from '../fields/fields.store.js';
import { anyContacts, tagsOf } from '../people/person.store.js';
import { valueOf } from '../people/values.js';
import { doNotMailEntry } from '../standing/do-not-mail.store.js';
import { droppedBy } from '../standing/dropped-topics.store.js';
import { permissionsOf } from '../standing/permissions.store.js';
import { allTopics } from '../vocabulary/topics.store.js';
import { allPools, tagNames } from '../vocabulary/vocabulary.store.js';
import { leaveTombstones } from './erasing.store.js';
import { withoutMentions } from './mentions.store.js';
import * as store from './own-places.store.js';
import { PersonalPlaces, type Held, type Place } from './places.js';

/** Lines of one person's history that are told: more than anybody has. */
const MOST = 10_000;

const person: Place = {
  held: async (db, { people }) => {
    const fields = await allFields(db);
    const pools = await allPools(db);
    const names = await tagNames(db);
    const tags = await tagsOf(db, people);
    const found: Held[] = [];
    for (const row of await anyContacts(db, people)) {
      found.push({
        at: row.createdAt,
        what: 'came in',
        text: `pool “${pools.find(({ id }) => id === row.poolId)?.name ?? ''}”, looked after by ${(await userById(db, row.ownerId))?.name ?? 'nobody'}`,
      });
      for (const field of fields) {
        const value = field.isFact === true ? null : valueOf(row, field.key);
        if (value !== null) found.push({ what: field.label, text: words(field, value) });
      }
      const own = tags.get(row.id) ?? [];
      if (own.length > 0)
        found.push({ what: 'tags', text: own.map((tag) => names.get(tag) ?? '').join(', ') });
      if (row.rating !== null)
        found.push({ what: 'rating', text: `${row.rating} of 100, ${row.band ?? ''}` });
    }
    return found;
  },
  forget: (tx, { people, now }) => leaveTombstones(tx, people, now),
  addresses: async (db, people) =>
    (await anyContacts(db, people)).flatMap(({ address, moreAddresses }) => [
      ...(address === null ? [] : [address]),
      ...lines(moreAddresses ?? ''),
    ]),
};

const words = (field: Field | undefined, value: FieldValue): string =>
  field ? formatFieldValue(field, value) : String(value ?? '');

const permission: Place = {
  held: async (db, { people }) =>
    (await each(people, (id) => permissionsOf(db, id, MOST))).map(
      ({ kind, at, source, wording }) => ({
        at,
        what: permissionWords[kind],
        text: [source, wording && `“${wording}”`].filter(Boolean).join(': '),
      }),
    ),
  forget: (tx, { people }) => store.forgetPermissions(tx, people),
};

const standing: Place = {
  held: async (db, { hashes }) => {
    const topics = await allTopics(db);
    const found: Held[] = [];
    for (const hash of hashes) {
      const entry = await doNotMailEntry(db, hash);
      if (entry)
        found.push({
          at: entry.at,
          what: `on do not mail: ${doNotMailWords[entry.reason]}`,
          text: entry.note,
        });
      const dropped = await droppedBy(db, hash);
      for (const { id, name } of topics)
        if (dropped.has(id)) found.push({ what: 'does not want', text: name });
    }
    return found;
  },
  // What is on do not mail stays there by its hash alone.
  forget: () => Promise.resolve(),
};

const changes: Place = {
  held: async (db, { people }) => {
    const fields = new Map((await allFields(db)).map((field) => [field.key, field]));
    const tags = await tagNames(db);
    const label = (key: string): string => fields.get(key)?.label ?? key.replaceAll('_', ' ');
    return (await each(people, (id) => store.changesOf(db, id, MOST))).map(
      ({ at, what, by, before, after }) => ({
        at,
        what: by === null ? what : `${what}, by ${by}`,
        text: Object.entries(after ?? {})
          .map(([key, value]) => {
            const tag = markedTag(key);
            if (tag !== undefined)
              return `${value === true ? 'tag' : 'no longer tag'} ${tags.get(tag) ?? ''}`;
            const was = words(fields.get(key), (before?.[key] ?? null) as FieldValue);
            const is = words(fields.get(key), value as FieldValue);
            return `${label(key)}: ${was === '' ? '' : `${was} → `}${is === '' ? 'none' : is}`;
          })
          .join('; '),
      }),
    );
  },
  forget: async (tx, whose) => {
    await store.forgetChanges(tx, whose.people);
    await withoutMentions(tx, changeSets, changeSets.what, whose);
    await withoutMentions(tx, changeSets, changeSets.todo, whose);
    await withoutMentions(tx, rewrittenTrees, rewrittenTrees.before, whose);
    await withoutMentions(tx, rewrittenTrees, rewrittenTrees.after, whose);
  },
  addresses: store.formerAddresses,
};

async function each<T>(
  people: readonly ContactId[],
  find: (id: ContactId) => Promise<readonly T[]>,
): Promise<T[]> {
  const found: T[] = [];
  for (const id of people) found.push(...(await find(id)));
  return found;
}

@Injectable()
export class OwnPlaces implements OnModuleInit {
  constructor(private readonly places: PersonalPlaces) {}

  onModuleInit(): void {
    this.places.register('person', person);
    this.places.register('permission', permission);
    this.places.register('standing', standing);
    this.places.register('changes', changes);
  }
}
