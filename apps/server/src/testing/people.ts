// Builders of contacts for store tests.
import { idOf } from '@palabra/core/kernel';
import type { UserId } from '@palabra/core/office';
import type { Field, FieldValue, ContactId, PoolId, TagId } from '@palabra/core/contacts';
import { addContacts, putTags } from '../contacts/people/writer.store.js';
import { write } from '../contacts/people/values.js';
import { allFields } from '../contacts/fields/fields.store.js';
import { addPool, allTags, addTag } from '../contacts/vocabulary/vocabulary.store.js';
import { addOffice } from '../office/office.store.js';
import type { Db } from '../platform/database.js';
import type { Keys } from '../platform/keys.js';
import { addUser } from '../platform/sign-in/sign-in.store.js';

export const NOW = new Date('2026-03-10T12:00:00Z');

export interface TestWorld {
  readonly house: PoolId;
  readonly partner: PoolId;
  readonly owners: readonly UserId[];
  readonly tags: readonly TagId[];
  readonly fields: ReadonlyMap<string, Field>;
}

export async function aWorld(db: Db): Promise<TestWorld> {
  await addOffice(db, {
    name: 'Garden',
    postalAddress: 'Walk 3',
    timeZone: 'Europe/Lisbon',
    country: 'GB',
    senderName: 'Garden',
    senderAddress: 'letters@example.com',
    createdAt: NOW,
  });
  const owners: UserId[] = [];
  for (const name of ['Ines', 'Kasimir'])
    owners.push(
      (
        await addUser(db, {
          name,
          address: `${name}@example.com`,
          addressKey: `${name}@example.com`.toLowerCase(),
          role: 'coordinator',
          passwordHash: '',
          createdAt: NOW,
        })
      ).id,
    );
  const house = (await addPool(db, 'house', 'house')).id;
  const partner = (await addPool(db, 'nursery', 'partner')).id;
  for (const name of ['guest', 'family', 'school']) await addTag(db, { name, colour: 'moss' }, NOW);
  const tags = (await allTags(db))
    .filter(({ kind }) => kind === 'office')
    .map(({ id }) => id)
    .sort((a, b) => a - b);
  return {
    house,
    partner,
    owners,
    tags,
    fields: new Map((await allFields(db)).map((field) => [field.key, field])),
  };
}

export interface TestPerson {
  readonly values?: Readonly<Record<string, FieldValue>>;
  readonly tags?: readonly TagId[];
  readonly pool?: PoolId;
  readonly owner?: UserId;
  readonly createdAt?: Date;
}

export async function aPerson(
  db: Db,
  world: TestWorld,
  keys: Keys,
  person: TestPerson,
): Promise<ContactId> {
  const written = write(
    undefined,
    { permission: 'asked', ...person.values },
    (key) => keys.addressHash(key),
    world.fields,
  );
  const [id] = await addContacts(db, [
    {
      ...written?.columns,
      poolId: person.pool ?? world.house,
      ownerId: person.owner ?? world.owners[0] ?? idOf(1),
      createdAt: person.createdAt ?? NOW,
      updatedAt: NOW,
    },
  ]);
  if (id === undefined) throw new Error('no contact');
  await putTags(
    db,
    (person.tags ?? []).map((tagId) => ({ contactId: id, tagId })),
    NOW,
  );
  return id;
}
