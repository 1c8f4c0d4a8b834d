// What can be done with people: list, open, change, tag, and take a change back.
import { Inject, Injectable } from '@nestjs/common';
import type {
  ContactRequest,
  DoNotMailRequest,
  NewContactRequest,
  OwnFieldRequest,
  PeopleFilter,
  PeopleQuery,
  PermissionRequest,
  TagRequest,
  TopicRequest,
} from '@palabra/contract/contacts';
import {
  oneLine,
  searchKey,
  parseAddress,
  addressProblems,
  parseFieldValue,
  type Field,
  type FieldValue,
} from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import { Database, type Db } from '../platform/database.js';
import { Keys } from '../platform/keys.js';
import { conflict, notFound, Problem } from '../platform/problem.js';
import { DAY, mayTry, type Limit } from '../platform/throttle.store.js';
import { CLOCK } from '../platform/time.js';
import * as changes from './changes.store.js';
import * as store from './contacts.store.js';
import {
  doNotMailEntry,
  mayTakeOff,
  putOnDoNotMail,
  takeOffDoNotMail,
} from './do-not-mail.store.js';
import { recountBounces, tryAgain } from './facts.store.js';
import { PeopleSets } from './people-sets.js';
import * as people from './people.store.js';
import { editableKeys, permissionValues, write, type ContactRow, type Values } from './values.js';
import * as topics from './topics.store.js';
import * as vocabulary from './vocabulary.store.js';

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

  async list(
    query: PeopleQuery,
    viewer: Viewer,
  ): Promise<{
    rows: people.PersonLine[];
    next: people.Cursor | null;
    previous: people.Cursor | null;
    offset: number;
  }> {
    const { seen, pool } = await this.sets.resolve(query, viewer);
    const limit = query.limit ?? 50;
    const after = query.after === undefined ? undefined : readCursor(query.after);
    const before = query.before === undefined ? undefined : readCursor(query.before);
    const found = await people.page(this.db, seen, limit + 1, { after, before, pool });
    const more = found.length > limit;
    const rows = more ? (before ? found.slice(1) : found.slice(0, limit)) : found;
    const [first, last] = [rows[0], rows.at(-1)];
    const offset =
      first && (after || before) ? await people.countBefore(this.db, seen, cursorOf(first)) : 0;
    return {
      rows,
      offset,
      next: last && (before || more) ? cursorOf(last) : null,
      previous: first && offset > 0 ? cursorOf(first) : null,
    };
  }

  async summary(
    filter: PeopleFilter,
    viewer: Viewer,
  ): Promise<
    people.MailableCounts & { title: string | null; colleagues: number; deleted: number }
  > {
    const { all, seen, deleted, title } = await this.sets.resolve(filter, viewer);
    const counts = await people.mailable(this.db, seen);
    const colleagues =
      all && !seesEverybody(viewer.role) ? (await people.count(this.db, all)) - counts.total : 0;
    return {
      ...counts,
      title,
      colleagues,
      deleted: deleted ? await people.count(this.db, deleted) : 0,
    };
  }

  async tagsAmong(filter: PeopleFilter, viewer: Viewer): Promise<{ id: number; count: number }[]> {
    const { seen } = await this.sets.resolve(filter, viewer);
    return people.tagsAmong(this.db, seen);
  }

  /** A contact the asker may see; otherwise it is as if there were none. */
  async person(id: number, viewer: Viewer, db: Db = this.db): Promise<ContactRow> {
    const row = await store.contactById(db, id);
    if (!row || (!seesEverybody(viewer.role) && row.ownerId !== viewer.userId))
      throw notFound('person');
    return row;
  }

  async place(
    id: number,
    filter: PeopleFilter,
    viewer: Viewer,
  ): Promise<{ position: number; total: number; previous: number | null; next: number | null }> {
    const row = await this.person(id, viewer);
    const { seen } = await this.sets.resolve(filter, viewer);
    const total = await people.count(this.db, seen);
    const place = await people.placeOf(this.db, seen, { key: row.searchKey, id: row.id });
    return { position: place.before + 1, total, previous: place.previous, next: place.next };
  }

  async add(request: NewContactRequest, viewer: Viewer): Promise<number> {
    const fields = await this.fields();
    const values = {
      ...this.readValues(request.values, fields),
      ...permissionValues(
        request.permission,
        request.permission === 'unknown' ? null : this.clock.now(),
        oneLine(request.source),
      ),
    };
    if ('owner' in values) this.mayGive(values['owner'] ?? null, viewer);
    if (!values['address'] && !values['given_name'] && !values['family_name'])
      throw fieldProblem('values.address', 'A contact needs a name or an address.');
    const pool = await vocabulary.housePool(this.db);
    const written = write(undefined, values, (key) => this.keys.addressHash(key), fields);
    if (!written) throw new Problem(422, 'There is nothing to keep.');
    await this.guessing(
      viewer,
      this.refuseTakenAddress(this.db, pool.id, written.columns.addressKey, undefined, viewer),
    );
    const now = this.clock.now();
    return this.database.transaction(async (tx) => {
      const set = await changes.openChangeSet(tx, {
        kind: 'by hand',
        userId: viewer.userId,
        at: now,
        what: 'added by hand',
      });
      const [id] = await store.addContacts(tx, [
        {
          ...written.columns,
          poolId: pool.id,
          ownerId: written.columns.ownerId ?? viewer.userId,
          createdAt: now,
          updatedAt: now,
        },
      ]);
      if (id === undefined) throw new Error('the contact was not written');
      await changes.addChangeItems(tx, [
        { setId: set, contactId: id, before: null, after: written.after },
      ]);
      await changes.countInto(tx, set, 1);
      return id;
    });
  }

  async change(
    id: number,
    request: ContactRequest,
    viewer: Viewer,
  ): Promise<{ changeSet: number | null }> {
    const fields = await this.fields();
    const values = this.readValues(request.values, fields);
    if ('owner' in values) this.mayGive(values['owner'] ?? null, viewer);
    const what = Object.keys(values).map((key) => fields.get(key)?.label ?? key);
    return this.write(id, request.version, values, `changed ${what.join(', ')}`, viewer, fields);
  }

  async changePermission(
    id: number,
    request: PermissionRequest,
    viewer: Viewer,
  ): Promise<{ changeSet: number | null }> {
    const values = permissionValues(
      request.permission,
      request.permission === 'unknown' ? null : this.clock.now(),
      oneLine(request.source),
    );
    return this.write(
      id,
      request.version,
      values,
      'changed permission',
      viewer,
      await this.fields(),
    );
  }

  private async write(
    id: number,
    version: number,
    values: Values,
    what: string,
    viewer: Viewer,
    fields: ReadonlyMap<string, Field>,
  ): Promise<{ changeSet: number | null }> {
    const now = this.clock.now();
    const writing = this.database.transaction(async (tx) => {
      const row = await this.person(id, viewer, tx);
      if (row.version !== version) throw conflict('person', { version: row.version });
      const written = write(row, values, (key) => this.keys.addressHash(key), fields);
      if (!written) return { changeSet: null };
      await this.refuseTakenAddress(tx, row.poolId, written.columns.addressKey, id, viewer);
      const changed = await store.changeContact(tx, id, version, written.columns, now);
      if (!changed) throw conflict('person', { version: row.version });
      if (written.columns.addressHash) await recountBounces(tx, [id]);
      const changeSet = await changes.openChangeSet(tx, {
        kind: 'by hand',
        userId: viewer.userId,
        at: now,
        what,
      });
      await changes.addChangeItems(tx, [
        { setId: changeSet, contactId: id, before: written.before, after: written.after },
      ]);
      await changes.countInto(tx, changeSet, 1);
      return { changeSet };
    });
    return this.guessing(viewer, writing);
  }

  /** What a person will be is judged as what they are: nobody gives away or takes whom they would not see. */
  private mayGive(owner: FieldValue, viewer: Viewer): void {
    if (!seesEverybody(viewer.role) && owner !== String(viewer.userId))
      throw new Problem(403, 'Only a coordinator gives people to another owner.');
  }

  /** That a colleague has this address can't be hidden from who tries to add it; whoever tries a list of them is stopped. */
  private async guessing<T>(viewer: Viewer, work: Promise<T>): Promise<T> {
    try {
      return await work;
    } catch (error) {
      if (
        !(error instanceof HiddenAddress) ||
        (await mayTry(this.db, `hidden address ${viewer.userId}`, HIDDEN_TRIES, this.clock.now()))
      )
        throw error;
      throw new Problem(
        429,
        'Many addresses could not be used today. Ask a coordinator to add these people.',
      );
    }
  }

  private async refuseTakenAddress(
    db: Db,
    poolId: number,
    addressKey: string | null | undefined,
    self: number | undefined,
    viewer: Viewer,
  ): Promise<void> {
    if (!addressKey) return;
    const [other] = await store.contactsByAddress(db, poolId, [addressKey]);
    if (!other || other.id === self) return;
    if (!seesEverybody(viewer.role) && other.ownerId !== viewer.userId) throw new HiddenAddress();
    const message = 'Somebody else in this pool has this address already.';
    throw new Problem(422, message, {
      errors: [{ path: 'values.address', message }],
      person: other.id,
    });
  }

  private readValues(
    raw: Readonly<Record<string, string>>,
    fields: ReadonlyMap<string, Field>,
  ): Values {
    const values: Record<string, FieldValue> = {};
    for (const [key, text] of Object.entries(raw)) {
      const field = fields.get(key);
      if (!field || !(editableKeys.has(key) || key.startsWith('own_')))
        throw fieldProblem(`values.${key.slice(0, 60)}`, 'There is no such field.');
      if (typeof text !== 'string')
        throw fieldProblem(`values.${key}`, `${field.label} must be text.`);
      if (key === 'address') {
        const parsed = parseAddress(text);
        if (!parsed.ok && parsed.error !== 'empty')
          throw fieldProblem(
            'values.address',
            `This is not an address: ${addressProblems[parsed.error]}.`,
          );
        values[key] = parsed.ok ? parsed.value.address : null;
        continue;
      }
      const parsed = parseFieldValue(field, text);
      if (!parsed.ok) throw fieldProblem(`values.${key}`, `${parsed.error}.`);
      if (key === 'owner' && parsed.value === null)
        throw fieldProblem('values.owner', 'A contact has an owner.');
      values[key] = parsed.value;
    }
    return values;
  }

  async fields(db: Db = this.db): Promise<Map<string, Field>> {
    return new Map((await vocabulary.allFields(db)).map((field) => [field.key, field]));
  }

  async addTag(request: TagRequest): Promise<vocabulary.Tag> {
    const name = oneLine(request.name);
    const tag = await vocabulary.addTag(this.db, name, request.colour, this.clock.now());
    if (tag) return tag;
    const known = await vocabulary.tagByName(this.db, name);
    throw new Problem(
      422,
      `There is a tag “${known?.name ?? name}” already, which reads the same.`,
      {
        errors: [{ path: 'name', message: `There is a tag “${known?.name ?? name}” already.` }],
        tag: known?.id,
      },
    );
  }

  async addTopic(request: TopicRequest): Promise<topics.Topic> {
    const topic = await topics.addTopic(
      this.db,
      this.topicName(request.name),
      oneLine(request.description),
      this.clock.now(),
    );
    if (!topic) throw fieldProblem('name', `There is a topic “${oneLine(request.name)}” already.`);
    return topic;
  }

  async changeTopic(id: number, request: TopicRequest): Promise<topics.Topic> {
    const name = this.topicName(request.name);
    if (
      (await topics.allTopics(this.db)).some(
        (topic) => topic.id !== id && topic.nameKey === searchKey(name),
      )
    )
      throw fieldProblem('name', `There is a topic “${name}” already.`);
    const topic = await topics.changeTopic(this.db, id, name, oneLine(request.description));
    if (!topic) throw notFound('topic');
    return topic;
  }

  private topicName(text: string): string {
    const name = oneLine(text);
    if (name === '') throw fieldProblem('name', 'A topic needs a name.');
    return name;
  }

  async addField(request: OwnFieldRequest): Promise<Field> {
    const label = oneLine(request.label);
    const taken = [...(await this.fields()).values()].some(
      (field) => field.label.toLowerCase() === label.toLowerCase(),
    );
    const field =
      taken || label === ''
        ? undefined
        : await vocabulary.addOwnField(this.db, label, request.type, this.clock.now());
    if (!field) throw fieldProblem('label', `There is a field “${label}” already.`);
    return field;
  }

  /** After soft bounces in a row: the next letter is tried again. */
  async tryAgain(id: number, viewer: Viewer): Promise<void> {
    await this.person(id, viewer);
    await tryAgain(this.db, id, this.clock.now());
  }

  async setDoNotMail(id: number, request: DoNotMailRequest, viewer: Viewer): Promise<void> {
    const now = this.clock.now();
    await this.database.transaction(async (tx) => {
      const { address, addressHash } = await this.person(id, viewer, tx);
      if (!addressHash) throw new Problem(422, 'This person has no address.');
      const entry = await doNotMailEntry(tx, addressHash);
      if (!request.put && entry && !mayTakeOff(entry, viewer))
        throw entry.reason === 'by hand'
          ? new Problem(
              403,
              'A colleague put this address on do not mail. They, or a coordinator, can take it off.',
            )
          : new Problem(
              422,
              'Who left, complained or has a dead address can’t be put back by hand; only the reader can come back.',
            );
      if (request.put === (entry !== undefined)) return;
      if (request.put)
        await putOnDoNotMail(tx, {
          addressHash,
          address,
          reason: 'by hand',
          at: now,
          note: oneLine(request.note),
          userId: viewer.userId,
        });
      else await takeOffDoNotMail(tx, addressHash);
      const setId = await changes.openChangeSet(tx, {
        kind: 'by hand',
        userId: viewer.userId,
        at: now,
        what: request.put ? 'put on do not mail' : 'taken off do not mail',
        undoable: false,
      });
      await changes.addChangeItems(tx, [
        {
          setId,
          contactId: id,
          before: { do_not_mail: !request.put },
          after: { do_not_mail: request.put },
        },
      ]);
      await changes.countInto(tx, setId, 1);
    });
  }
}

/** How many addresses of colleagues' people a member may come upon in a day. */
const HIDDEN_TRIES: Limit = { most: 20, windowMs: DAY };

class HiddenAddress extends Problem {
  constructor() {
    const message = 'This address can’t be used here. A coordinator can tell why.';
    super(422, message, { errors: [{ path: 'values.address', message }] });
  }
}

const fieldProblem = (path: string, message: string): Problem =>
  new Problem(422, message, { errors: [{ path, message }] });

const cursorOf = (line: people.PersonLine): people.Cursor => ({
  key: line.search_key,
  id: line.id,
});

export const writeCursor = (cursor: people.Cursor): string =>
  Buffer.from(JSON.stringify([cursor.key, cursor.id])).toString('base64url');

export function readCursor(text: string): people.Cursor {
  try {
    const [key, id] = JSON.parse(Buffer.from(text, 'base64url').toString('utf8')) as unknown[];
    if (
      typeof key === 'string' &&
      typeof id === 'number' &&
      Number.isInteger(id) &&
      !key.includes('\0')
    )
      return { key, id };
  } catch {
    // falls through to the one message
  }
  throw new Problem(400, 'This page of the list can’t be found. Go back to the first one.');
}
