// What can be done with people: list, open, change, tag, and take a change back.
import { Inject, Injectable } from '@nestjs/common';
import type { ContactRequest, DoNotMailRequest, NewContactRequest, OwnFieldRequest, PeopleFilter, PeopleQuery, PermissionRequest, TagRequest, TaggingRequest } from '@palabra/contract/contacts';
import { oneLine, parseAddress, addressProblems, parseFieldValue, type Field, type FieldValue } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import type { SQL } from 'drizzle-orm';
import { Database, type Db } from '../platform/database.js';
import { Keys } from '../platform/keys.js';
import { conflict, notFound, Problem } from '../platform/problem.js';
import { CLOCK } from '../platform/time.js';
import * as changes from './changes.store.js';
import * as store from './contacts.store.js';
import { doNotMailEntry, putOnDoNotMail, takeOffDoNotMail } from './do-not-mail.store.js';
import { PeopleSets } from './people-sets.js';
import * as people from './people.store.js';
import { editableKeys, permissionValues, valueOf, write, type ContactRow, type Values } from './values.js';
import * as vocabulary from './vocabulary.store.js';

/** People per transaction of a bulk change: about 80 ms on a small machine. */
const STRETCH = 4000;

@Injectable()
export class ContactsService {
  constructor(
    private readonly database: Database,
    private readonly sets: PeopleSets,
    private readonly keys: Keys,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  private get db(): Db {
    return this.database.db;
  }

  async list(query: PeopleQuery, viewer: Viewer): Promise<{ rows: people.PersonLine[]; next: people.Cursor | null; previous: people.Cursor | null; offset: number }> {
    const { seen } = await this.sets.resolve(query, viewer);
    const limit = query.limit ?? 50;
    const after = query.after === undefined ? undefined : readCursor(query.after);
    const before = query.before === undefined ? undefined : readCursor(query.before);
    const found = await people.page(this.db, seen, limit + 1, { after, before });
    const more = found.length > limit;
    const rows = more ? (before ? found.slice(1) : found.slice(0, limit)) : found;
    const [first, last] = [rows[0], rows.at(-1)];
    const offset = first && (after || before) ? await people.countBefore(this.db, seen, cursorOf(first)) : 0;
    return { rows, offset, next: last && (before || more) ? cursorOf(last) : null, previous: first && offset > 0 ? cursorOf(first) : null };
  }

  async summary(filter: PeopleFilter, viewer: Viewer): Promise<people.MailableCounts & { title: string | null; colleagues: number }> {
    const { all, seen, title } = await this.sets.resolve(filter, viewer);
    const counts = await people.mailable(this.db, seen);
    const colleagues = seesEverybody(viewer.role) ? 0 : (await people.count(this.db, all)) - counts.total;
    return { ...counts, title, colleagues };
  }

  async tagsAmong(filter: PeopleFilter, viewer: Viewer): Promise<{ id: number; count: number }[]> {
    const { seen } = await this.sets.resolve(filter, viewer);
    return people.tagsAmong(this.db, seen);
  }

  /** A contact the asker may see; otherwise it is as if there were none. */
  async person(id: number, viewer: Viewer, db: Db = this.db): Promise<ContactRow> {
    const row = await store.contactById(db, id);
    if (!row || (!seesEverybody(viewer.role) && row.ownerId !== viewer.userId)) throw notFound('person');
    return row;
  }

  async place(id: number, filter: PeopleFilter, viewer: Viewer): Promise<{ position: number; total: number; previous: number | null; next: number | null }> {
    const row = await this.person(id, viewer);
    const { seen } = await this.sets.resolve(filter, viewer);
    const total = await people.count(this.db, seen);
    const place = await people.placeOf(this.db, seen, { key: row.searchKey, id: row.id });
    return { position: place.before + 1, total, previous: place.previous, next: place.next };
  }

  async add(request: NewContactRequest, viewer: Viewer): Promise<number> {
    const fields = await this.fields();
    const values = { ...this.readValues(request.values, fields), ...permissionValues(request.permission, request.permission === 'unknown' ? null : this.clock.now(), oneLine(request.source)) };
    if (!values['address'] && !values['given_name'] && !values['family_name']) throw fieldProblem('values.address', 'A contact needs a name or an address.');
    const pool = await vocabulary.housePool(this.db);
    const written = write(undefined, values, (key) => this.keys.addressHash(key), fields);
    if (!written) throw new Problem(422, 'There is nothing to keep.');
    await this.refuseTakenAddress(this.db, pool.id, written.columns.addressKey, undefined);
    const now = this.clock.now();
    return this.database.transaction(async (tx) => {
      const set = await changes.openChangeSet(tx, { kind: 'by hand', userId: viewer.userId, at: now, what: 'added by hand', undoable: false });
      const [id] = await store.addContacts(tx, [{ ...written.columns, poolId: pool.id, ownerId: written.columns.ownerId ?? viewer.userId, createdAt: now, updatedAt: now }]);
      if (id === undefined) throw new Error('the contact was not written');
      await changes.addChangeItems(tx, [{ setId: set, contactId: id, before: null, after: written.after }]);
      await changes.countInto(tx, set, 1);
      return id;
    });
  }

  async change(id: number, request: ContactRequest, viewer: Viewer): Promise<{ changeSet: number | null }> {
    const fields = await this.fields();
    const values = this.readValues(request.values, fields);
    if ('owner' in values && !seesEverybody(viewer.role)) throw new Problem(403, 'Only a coordinator gives people to another owner.');
    const what = Object.keys(values).map((key) => fields.get(key)?.label ?? key);
    return this.write(id, request.version, values, `changed ${what.join(', ')}`, viewer, fields);
  }

  async changePermission(id: number, request: PermissionRequest, viewer: Viewer): Promise<{ changeSet: number | null }> {
    const values = permissionValues(request.permission, request.permission === 'unknown' ? null : this.clock.now(), oneLine(request.source));
    return this.write(id, request.version, values, 'changed permission', viewer, await this.fields());
  }

  private async write(id: number, version: number, values: Values, what: string, viewer: Viewer, fields: ReadonlyMap<string, Field>): Promise<{ changeSet: number | null }> {
    const now = this.clock.now();
    return this.database.transaction(async (tx) => {
      const row = await this.person(id, viewer, tx);
      if (row.version !== version) throw conflict('person', { version: row.version });
      const written = write(row, values, (key) => this.keys.addressHash(key), fields);
      if (!written) return { changeSet: null };
      await this.refuseTakenAddress(tx, row.poolId, written.columns.addressKey, id);
      const changed = await store.changeContact(tx, id, version, written.columns, now);
      if (!changed) throw conflict('person', { version: row.version });
      const changeSet = await changes.openChangeSet(tx, { kind: 'by hand', userId: viewer.userId, at: now, what });
      await changes.addChangeItems(tx, [{ setId: changeSet, contactId: id, before: written.before, after: written.after }]);
      await changes.countInto(tx, changeSet, 1);
      return { changeSet };
    });
  }

  private async refuseTakenAddress(db: Db, poolId: number, addressKey: string | null | undefined, self: number | undefined): Promise<void> {
    if (!addressKey) return;
    const [other] = await store.contactsByAddress(db, poolId, [addressKey]);
    if (other && other.id !== self) throw new Problem(422, 'Somebody else in this pool has this address already.', { errors: [{ path: 'values.address', message: 'Somebody else in this pool has this address already.' }], person: other.id });
  }

  private readValues(raw: Readonly<Record<string, string>>, fields: ReadonlyMap<string, Field>): Values {
    const values: Record<string, FieldValue> = {};
    for (const [key, text] of Object.entries(raw)) {
      const field = fields.get(key);
      if (!field || !(editableKeys.has(key) || key.startsWith('own_'))) throw fieldProblem(`values.${key.slice(0, 60)}`, 'There is no such field.');
      if (typeof text !== 'string') throw fieldProblem(`values.${key}`, `${field.label} must be text.`);
      if (key === 'address') {
        const parsed = parseAddress(text);
        if (!parsed.ok && parsed.error !== 'empty') throw fieldProblem('values.address', `This is not an address: ${addressProblems[parsed.error]}.`);
        values[key] = parsed.ok ? parsed.value.address : null;
        continue;
      }
      const parsed = parseFieldValue(field, text);
      if (!parsed.ok) throw fieldProblem(`values.${key}`, `${parsed.error}.`);
      if (key === 'owner' && parsed.value === null) throw fieldProblem('values.owner', 'A contact has an owner.');
      values[key] = parsed.value;
    }
    return values;
  }

  async fields(db: Db = this.db): Promise<Map<string, Field>> {
    return new Map((await vocabulary.allFields(db)).map((field) => [field.key, field]));
  }

  /** Puts a tag on, or takes it off, everybody meant; in stretches, so that others get their turn. */
  async tag(request: TaggingRequest, viewer: Viewer): Promise<changes.ChangeSet> {
    const tag = await vocabulary.tagById(this.db, request.tag);
    if (!tag) throw notFound('tag');
    if (tag.kind === 'automatic') throw new Problem(422, 'This tag is set by the system and can’t be put on by hand.');
    const chosen = await this.meant(request.people, viewer);
    const set = await changes.openChangeSet(this.db, { kind: 'tagging', userId: viewer.userId, at: this.clock.now(), what: `${request.put ? 'tagged' : 'untagged'} “${tag.name}”` });
    for (let after = 0; ; ) {
      const done = await this.database.transaction(async (tx) => {
        const stretch = await changes.tagStretch(tx, set, chosen, tag.id, request.put, after, STRETCH);
        if (stretch) await changes.countInto(tx, set, stretch.changed);
        return stretch;
      });
      if (!done) break;
      after = done.last;
    }
    return (await changes.changeSetById(this.db, set)) ?? Promise.reject(notFound('change'));
  }

  private async meant(selection: TaggingRequest['people'], viewer: Viewer): Promise<SQL> {
    if (!selection.ids) return (await this.sets.resolve(selection, viewer)).seen;
    return people.allOf(people.living, people.theseOnes(selection.ids), people.scope(viewer));
  }

  async addTag(request: TagRequest): Promise<vocabulary.Tag> {
    const name = oneLine(request.name);
    const tag = await vocabulary.addTag(this.db, name, request.colour, this.clock.now());
    if (tag) return tag;
    const known = await vocabulary.tagByName(this.db, name);
    throw new Problem(422, `There is a tag “${known?.name ?? name}” already, which reads the same.`, { errors: [{ path: 'name', message: `There is a tag “${known?.name ?? name}” already.` }], tag: known?.id });
  }

  async addField(request: OwnFieldRequest): Promise<Field> {
    const label = oneLine(request.label);
    const taken = [...(await this.fields()).values()].some((field) => field.label.toLowerCase() === label.toLowerCase());
    const field = taken || label === '' ? undefined : await vocabulary.addOwnField(this.db, label, request.type, this.clock.now());
    if (!field) throw fieldProblem('label', `There is a field “${label}” already.`);
    return field;
  }

  async setDoNotMail(id: number, request: DoNotMailRequest, viewer: Viewer): Promise<void> {
    const row = await this.person(id, viewer);
    if (!row.addressHash) throw new Problem(422, 'This person has no address.');
    if (request.put) {
      await putOnDoNotMail(this.db, { addressHash: row.addressHash, address: row.address, reason: 'by hand', at: this.clock.now(), note: oneLine(request.note) });
      return;
    }
    const entry = await doNotMailEntry(this.db, row.addressHash);
    if (entry && entry.reason !== 'by hand') throw new Problem(422, 'Who left, complained or has a dead address can’t be put back by hand; only the reader can come back.');
    await takeOffDoNotMail(this.db, row.addressHash);
  }

  /** Takes a change back. What was changed again since is left as it is, and counted. */
  async undo(setId: number, viewer: Viewer): Promise<{ set: changes.ChangeSet; leftAlone: number }> {
    const set = await changes.changeSetById(this.db, setId);
    if (!set || (set.userId !== viewer.userId && !seesEverybody(viewer.role))) throw notFound('change');
    if (!set.undoable) throw new Problem(422, 'This change can’t be taken back.');
    const now = this.clock.now();
    if (!(await changes.markUndone(this.db, setId, now))) throw new Problem(422, 'This change was taken back already.');
    const fields = await this.fields();
    const undoing = await changes.openChangeSet(this.db, { kind: 'undo', userId: viewer.userId, at: now, what: `took back: ${set.what}`, undoable: false });
    const takeBack = set.kind === 'tagging' ? this.undoTagging.bind(this) : this.undoStretch.bind(this);
    let leftAlone = 0;
    for (let after = 0; ; ) {
      const done = await this.database.transaction((tx) => takeBack(tx, setId, undoing, after, fields, now));
      if (!done) break;
      leftAlone += done.leftAlone;
      after = done.last;
    }
    return { set: (await changes.changeSetById(this.db, undoing)) ?? set, leftAlone };
  }

  private async undoTagging(tx: Db, setId: number, undoing: number, after: number): Promise<{ leftAlone: number; last: number } | undefined> {
    const done = await changes.untagStretch(tx, setId, undoing, after, STRETCH);
    if (!done) return undefined;
    await changes.countInto(tx, undoing, done.changed);
    return { leftAlone: done.items - done.changed, last: done.last };
  }

  private async undoStretch(tx: Db, setId: number, undoing: number, after: number, fields: ReadonlyMap<string, Field>, now: Date): Promise<{ leftAlone: number; last: number } | undefined> {
    const items = await changes.itemsAfter(tx, setId, after, 200);
    const last = items.at(-1)?.contactId;
    return last === undefined ? undefined : { leftAlone: await this.undoItems(tx, undoing, items, fields, now), last };
  }

  private async undoItems(tx: Db, undoing: number, items: readonly changes.ChangeItem[], fields: ReadonlyMap<string, Field>, now: Date): Promise<number> {
    const rows = new Map((await store.contactsById(tx, items.map(({ contactId }) => contactId))).map((row) => [row.id, row]));
    const written: changes.ChangeItem[] = [];
    const gone: number[] = [];
    let leftAlone = 0;
    for (const item of items) {
      const row = rows.get(item.contactId);
      if (!row) continue;
      if (item.before === null) {
        if (row.version > 1) leftAlone++;
        else {
          gone.push(row.id);
          written.push({ setId: undoing, contactId: row.id, before: {}, after: { deleted: true } });
        }
        continue;
      }
      const back = await this.undoItem(tx, row, item, fields, now);
      if (Object.keys(back).length === 0) leftAlone++;
      else written.push({ setId: undoing, contactId: row.id, before: item.after, after: back });
    }
    await store.markDeleted(tx, gone, now);
    await changes.addChangeItems(tx, written);
    await changes.countInto(tx, undoing, written.length);
    return leftAlone;
  }

  private async undoItem(tx: Db, row: ContactRow, item: changes.ChangeItem, fields: ReadonlyMap<string, Field>, now: Date): Promise<Record<string, unknown>> {
    const back: Record<string, unknown> = {};
    const values: Record<string, FieldValue> = {};
    for (const [key, was] of Object.entries(item.before ?? {})) {
      const tag = /^tag_(\d+)$/.exec(key)?.[1];
      if (tag) {
        const changed = was === true ? (await store.putTags(tx, [row.id], [Number(tag)])).length > 0 : await store.takeTag(tx, row.id, Number(tag));
        if (changed) back[key] = was;
      } else if (valueOf(row, key) === item.after[key]) values[key] = was as FieldValue;
    }
    const written = write(row, values, (key) => this.keys.addressHash(key), fields);
    if (written && (await store.changeContact(tx, row.id, row.version, written.columns, now))) Object.assign(back, written.after);
    return back;
  }
}

const fieldProblem = (path: string, message: string): Problem => new Problem(422, message, { errors: [{ path, message }] });

const cursorOf = (line: people.PersonLine): people.Cursor => ({ key: line.search_key, id: line.id });

export const writeCursor = (cursor: people.Cursor): string => Buffer.from(JSON.stringify([cursor.key, cursor.id])).toString('base64url');

export function readCursor(text: string): people.Cursor {
  try {
    const [key, id] = JSON.parse(Buffer.from(text, 'base64url').toString('utf8')) as unknown[];
    if (typeof key === 'string' && typeof id === 'number' && Number.isInteger(id) && !key.includes('\0')) return { key, id };
  } catch {
    // falls through to the one message
  }
  throw new Problem(400, 'This page of the list can’t be found. Go back to the first one.');
}
