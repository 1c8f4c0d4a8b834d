// The one writer of people: page, import, reader, bulk work and undo all change them here. Whoever is changed is locked
// first; what was before and what happened is written down in the same transaction.
import type { ChangeKind } from '@palabra/contract/contacts';
import type { UserId } from '@palabra/core/office';
import { Inject, Injectable } from '@nestjs/common';
import {
  formatFieldValue,
  isBelonging,
  tagMark,
  type Field,
  type ContactId,
  type PoolId,
  type TagId,
  type ChangeSetId,
} from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import type { Db } from '../../platform/database.js';
import { Keys } from '../../platform/keys.js';
import { conflict } from '../../platform/refusals.js';
import { CLOCK } from '../../platform/time.js';
import { refuse } from '../contacts.refusals.js';
import { erasedHashes } from '../erasing/erasing.store.js';
import { openChangeSet, remember, type ChangeItem } from '../changes/changes.store.js';
import { followAddress, spread } from '../standing/do-not-mail.store.js';
import { rememberPermissions } from '../standing/permissions.store.js';
import { theseOnes } from './people.store.js';
import { lockContacts, tagsOf, type LockedContact } from './person.store.js';
import { Ties } from './ties.js';
import { valueOf, write, type Values, type Written } from './values.js';
import {
  addContacts,
  bringBack,
  markDeleted,
  putTags,
  takeTags,
  writeOver,
} from './writer.store.js';

/** Who changes people, and why. */
export interface Occasion {
  readonly kind: ChangeKind;
  /** Null where nobody of the office does it. */
  readonly userId: UserId | null;
  /** In words: “changed town”. */
  readonly what: string;
  readonly undoable?: boolean;
}

export interface NewPerson {
  readonly values: Values;
  readonly poolId: PoolId;
  readonly ownerId: UserId;
  readonly tags?: readonly TagId[];
}

export interface Edit {
  readonly row: LockedContact;
  readonly values?: Values;
  readonly put?: readonly TagId[];
  readonly take?: readonly TagId[];
}

type Fields = ReadonlyMap<string, Field>;
type Remembered = Record<string, unknown>;

@Injectable()
export class PeopleWriter {
  constructor(
    private readonly keys: Keys,
    private readonly ties: Ties,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  /** What writing values over somebody would do; undefined when nothing. */
  compare(row: LockedContact | undefined, values: Values, fields: Fields): Written | undefined {
    return write(row, values, (key) => this.keys.addressHash(key), fields);
  }

  /** The person of the version that somebody saw, locked; who was faster is obeyed. */
  async lockSeen(tx: Db, id: ContactId, version: number, fields: Fields): Promise<LockedContact> {
    const [row] = await lockContacts(tx, [id]);
    if (row?.version === version) return row;
    throw conflict('person', row && { version: row.version, values: textsOf(row, fields) });
  }

  /** Changes people in a change set of its own, which is there only if anything changed; says which it is. */
  async write(
    tx: Db,
    occasion: Occasion,
    fields: Fields,
    work: (writing: Writing) => Promise<void>,
  ): Promise<ChangeSetId | null> {
    const writing = new Writing(tx, occasion, fields, this.keys, this.ties, this.clock.now());
    await work(writing);
    return writing.written;
  }

  /** Goes on with a change set that is open already. */
  goOn(tx: Db, set: ChangeSetId, fields: Fields): Writing {
    return new Writing(tx, set, fields, this.keys, this.ties, this.clock.now());
  }
}

/** All values of a person as they are typed. */
const textsOf = (row: LockedContact, fields: Fields): Record<string, string> =>
  Object.fromEntries(
    [...fields.values()].map((field) => {
      const value = valueOf(row, field.key);
      // Colleagues are chosen by key.
      return [
        field.key,
        isBelonging(field.key) ? String(value ?? '') : formatFieldValue(field, value),
      ];
    }),
  );

export class Writing {
  /** People changed so far. */
  changed = 0;

  constructor(
    private readonly tx: Db,
    private set: ChangeSetId | Occasion,
    private readonly fields: Fields,
    private readonly keys: Keys,
    private readonly ties: Ties,
    readonly now: Date,
  ) {}

  /** Adds people; returns their keys in the same order. */
  async add(people: readonly NewPerson[]): Promise<ContactId[]> {
    const written = people.map(({ values }) => this.compare(undefined, values));
    await this.refuseErased(written.flatMap((one) => one ?? []));
    const ids = await addContacts(
      this.tx,
      people.map(({ poolId, ownerId }, at) => ({
        ...written[at]?.columns,
        poolId,
        ownerId,
        createdAt: this.now,
        updatedAt: this.now,
      })),
    );
    if (ids.length < people.length) throw new Error('a contact was not written');
    await this.spread(ids.filter((_, at) => (written[at]?.columns.moreHashes ?? []).length > 0));
    const tagged = await putTags(
      this.tx,
      people.flatMap(({ tags = [] }, at) =>
        tags.flatMap((tagId) => {
          const contactId = ids[at];
          return contactId === undefined ? [] : [{ contactId, tagId }];
        }),
      ),
      this.now,
    );
    const marks = marksOf(tagged, true);
    await this.log(
      ids.map((contactId) => ({
        contactId,
        before: null,
        // What they came in with they are; nobody takes back single fields of it.
        after: marks.get(contactId) ?? {},
      })),
    );
    await this.agreed(
      ids.filter((_, at) => {
        const { permission = 'unknown', permissionSource = null } = written[at]?.columns ?? {};
        return permission !== 'unknown' || permissionSource !== null;
      }),
    );
    return ids;
  }

  /** Changes people and their tags. `again`: tags that are put on were there before. */
  async change(edits: readonly Edit[], since: Date | 'again' = this.now): Promise<void> {
    const written = edits.flatMap(({ row, values = {} }) => {
      const one = this.compare(row, values);
      return one ? [{ row, ...one }] : [];
    });
    await this.refuseErased(written);
    const moved = written.filter(({ columns }) => 'addressHash' in columns);
    await writeOver(
      this.tx,
      written.map(({ row, columns }) => ({
        row,
        columns:
          'addressHash' in columns
            ? { ...columns, formerHash: row.addressHash ?? row.formerHash }
            : columns,
      })),
      this.now,
    );
    for (const { row, columns } of moved) await this.follow(row, columns);
    await this.spread(
      written
        .filter(({ columns }) => 'addressHash' in columns || 'moreHashes' in columns)
        .map(({ row }) => row.id),
    );
    await this.ties.moved(
      this.tx,
      moved.flatMap(({ row, columns }) => (columns.addressHash ? [row.id] : [])),
    );
    const pairs = (which: 'put' | 'take') =>
      edits.flatMap(({ row, [which]: tags = [] }) =>
        tags.map((tagId) => ({ contactId: row.id, tagId })),
      );
    const put = marksOf(await putTags(this.tx, pairs('put'), since), true);
    const taken = marksOf(await takeTags(this.tx, pairs('take')), false);
    const byId = new Map(written.map((one) => [one.row.id, one]));
    const items = edits.map(({ row: { id: contactId } }): Item => {
      const marks = { ...put.get(contactId), ...taken.get(contactId) };
      const one = byId.get(contactId);
      return {
        contactId,
        before: { ...one?.before, ...opposite(marks) },
        after: { ...one?.after, ...marks },
      };
    });
    await this.log(items.filter(({ after }) => Object.keys(after).length > 0));
    await this.agreed(
      written.filter(({ after }) => saysPermission(after)).map(({ row }) => row.id),
    );
  }

  /** What somebody agreed to is kept for good, by the set that is open by now. */
  private async agreed(ids: readonly ContactId[]): Promise<void> {
    if (typeof this.set === 'number') await rememberPermissions(this.tx, this.set, ids, this.now);
  }

  /** Who was erased at their own request comes back by their own hand alone, whoever writes them down again. */
  private async refuseErased(written: readonly Written[]): Promise<void> {
    const given = written.flatMap(({ columns }) => [
      ...(columns.addressHash ? [[columns.addressHash, columns.addressKey] as const] : []),
      ...(columns.moreHashes ?? []).map((hash, at) => [hash, columns.moreKeys?.[at]] as const),
    ]);
    const erased = await erasedHashes(
      this.tx,
      given.map(([hash]) => hash),
    );
    const [, address] = given.find(([hash]) => erased.has(hash.toString('hex'))) ?? [];
    if (address) throw refuse('address-erased', address);
  }

  /** Whoever has another address is still the same reader. */
  private async follow(row: LockedContact, columns: Written['columns']): Promise<void> {
    // One who had no address for a while is the same person afterwards.
    const from = row.addressHash ?? row.formerHash;
    const to = columns.addressHash;
    if (from && to && !from.equals(to))
      await followAddress(this.tx, from, to, columns.address ?? null);
  }

  /** Who left by one of their addresses left by all. */
  private async spread(ids: readonly ContactId[]): Promise<void> {
    if (ids.length > 0) await spread(this.tx, theseOnes(ids));
  }

  /** Takes people and their tags away; they can be brought back. */
  async remove(rows: readonly LockedContact[]): Promise<void> {
    const ids = rows.map(({ id }) => id);
    const tags = await tagsOf(this.tx, ids);
    await markDeleted(this.tx, ids, this.now);
    await this.log(
      ids.map((contactId) => {
        const marks = Object.fromEntries(
          (tags.get(contactId) ?? []).map((tag) => [tagMark(tag), false]),
        );
        return {
          contactId,
          before: { deleted: false, ...opposite(marks) },
          after: { deleted: true, ...marks },
        };
      }),
    );
  }

  /** Brings back people who were taken away, with these tags. */
  async bringBack(
    people: readonly { readonly row: LockedContact; readonly tags: readonly TagId[] }[],
  ): Promise<void> {
    await bringBack(
      this.tx,
      people.map(({ row }) => row.id),
    );
    const marks = marksOf(
      await putTags(
        this.tx,
        people.flatMap(({ row, tags }) => tags.map((tagId) => ({ contactId: row.id, tagId }))),
        'again',
      ),
      true,
    );
    await this.log(
      people.map(({ row: { id: contactId } }) => {
        const own = marks.get(contactId) ?? {};
        return {
          contactId,
          before: { deleted: true, ...opposite(own) },
          after: { deleted: false, ...own },
        };
      }),
    );
  }

  /** Writes down something about a person that is kept elsewhere. */
  async mark(contactId: ContactId, before: Remembered, after: Remembered): Promise<void> {
    await this.log([{ contactId, before, after }]);
  }

  /** The set that was written; null where nothing changed, and no set is there. */
  get written(): ChangeSetId | null {
    return typeof this.set === 'number' ? this.set : null;
  }

  private compare(row: LockedContact | undefined, values: Values): Written | undefined {
    return write(row, values, (key) => this.keys.addressHash(key), this.fields);
  }

  private async log(items: readonly Item[]): Promise<void> {
    if (items.length === 0) return;
    if (typeof this.set !== 'number')
      this.set = await openChangeSet(this.tx, { ...this.set, at: this.now });
    this.changed += await remember(this.tx, this.set, items);
  }
}

type Item = Omit<ChangeItem, 'setId' | 'undone'>;

/** Whether a change speaks of what somebody agreed to. */
const saysPermission = (after: Remembered): boolean =>
  Object.keys(after).some((key) => key === 'permission' || key.startsWith('permission_'));

/** Taggings as marks, by person. */
function marksOf(
  pairs: readonly { readonly contactId: ContactId; readonly tagId: TagId }[],
  has: boolean,
): Map<ContactId, Record<string, boolean>> {
  const found = new Map<ContactId, Record<string, boolean>>();
  for (const { contactId, tagId } of pairs) {
    const marks = found.get(contactId) ?? {};
    marks[tagMark(tagId)] = has;
    found.set(contactId, marks);
  }
  return found;
}

const opposite = (marks: Readonly<Record<string, boolean>>): Record<string, boolean> =>
  Object.fromEntries(Object.entries(marks).map(([key, has]) => [key, !has]));
