// What can be done with people: list, open, add, change.
import { Inject, Injectable } from '@nestjs/common';
import type {
  ContactRequest,
  NewContactRequest,
  PeopleFilter,
  PeopleQuery,
  PeopleSelection,
  PermissionRequest,
  SortedFilter,
} from '@palabra/contract/contacts';
import {
  addressProblems,
  isBelonging,
  manyLines,
  oneLine,
  parseAddress,
  parseFieldValue,
  parseSort,
  permissionValues,
  type Field,
  type FieldValue,
  type PermissionTerms,
  type ContactId,
  type PoolId,
  type TagId,
} from '@palabra/core/contacts';
import { idOf, type Clock } from '@palabra/core/kernel';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import { Database, type Db } from '../../platform/database.js';
import { Problem } from '../../platform/problem.js';
import { notFound } from '../../platform/refusals.js';
import { mayLearnOf } from './hidden.store.js';
import { CLOCK } from '../../platform/time.js';
import { refuse } from '../contacts.refusals.js';
import { VocabularyService } from '../vocabulary/vocabulary.service.js';
import { housePool } from '../vocabulary/vocabulary.store.js';
import { orderOf, valuesOf } from './columns.store.js';
import { Orders } from './orders.js';
import { PeopleSets } from './people-sets.js';
import * as people from './people.store.js';
import * as store from './person.store.js';
import { owns, sees } from './scope.store.js';
import {
  claimsOf,
  editableKeys,
  standardValues,
  type Claims,
  type ContactRow,
  type Values,
} from './values.js';
import { PeopleWriter } from './writer.js';

@Injectable()
export class PeopleService {
  constructor(
    private readonly database: Database,
    private readonly sets: PeopleSets,
    private readonly vocabulary: VocabularyService,
    private readonly writer: PeopleWriter,
    private readonly orders: Orders,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  private get db(): Db {
    return this.database.db;
  }

  async list(query: PeopleQuery, viewer: Viewer): Promise<people.PersonLine[]> {
    const { seen, pool } = await this.sets.resolve(query, viewer);
    const fields = await this.vocabulary.fields();
    const today = await this.vocabulary.today();
    const { from = 0, limit = 50 } = query;
    const order = orderOf(parseSort(query.sort ?? '') ?? [], fields, today);
    const values =
      query.columns === undefined ? undefined : valuesOf(query.columns.split(','), fields, today);
    // The first page needs nobody's place; by name alone, an index has them.
    if (from === 0 || (!order && query.filter === undefined))
      return people.page(this.db, seen, limit, { from, pool, order, values });
    const ids = await this.orders.of(seen, order ?? people.byNameAndKey);
    return people.linesInOrder(this.db, seen, ids.slice(from, from + limit), values);
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

  /** How many of some people are in a list that the asker sees. */
  async countAmong({ ids, ...filter }: PeopleSelection, viewer: Viewer): Promise<number> {
    const seen = await this.sets.meant(filter, viewer);
    const these = ids ? [people.theseOnes(ids.map((id) => idOf<ContactId>(id)))] : [];
    return people.count(this.db, people.allOf(...these, seen));
  }

  /** Who of some people is meant. */
  async whoAmong({ ids = [], ...filter }: PeopleSelection, viewer: Viewer): Promise<ContactId[]> {
    const seen = await this.sets.meant(filter, viewer);
    const these = people.theseOnes(ids.map((id) => idOf<ContactId>(id)));
    return [...(await people.keysInOrder(this.db, people.allOf(these, seen)))];
  }

  async tagsAmong(filter: PeopleFilter, viewer: Viewer): Promise<{ id: TagId; count: number }[]> {
    const { seen } = await this.sets.resolve(filter, viewer);
    return people.tagsAmong(this.db, seen);
  }

  /** A contact the asker may see; otherwise it is as if there were none. */
  async person(id: ContactId, viewer: Viewer, db: Db = this.db): Promise<ContactRow> {
    const row = await store.contactById(db, id);
    if (!row || !sees(viewer, row)) throw notFound('person');
    return row;
  }

  async place(
    id: ContactId,
    filter: SortedFilter,
    viewer: Viewer,
  ): Promise<{ position: number; total: number; previous: number | null; next: number | null }> {
    const row = await this.person(id, viewer);
    const { seen } = await this.sets.resolve(filter, viewer);
    const total = await people.count(this.db, seen);
    const order = orderOf(
      parseSort(filter.sort ?? '') ?? [],
      await this.vocabulary.fields(),
      await this.vocabulary.today(),
    );
    const place = order
      ? await people.placeIn(this.db, seen, id, order)
      : await people.placeOf(this.db, seen, { key: row.searchKey, id: row.id });
    return { position: place.before + 1, total, previous: place.previous, next: place.next };
  }

  async add(request: NewContactRequest, viewer: Viewer): Promise<ContactId> {
    const fields = await this.vocabulary.fields();
    const values = {
      ...standardValues(fields),
      ...this.readValues(request.values, fields),
      ...permissionValues(this.termsOf(request)),
    };
    for (const field of fields.values()) this.require(field, values[field.key] ?? null);
    const owner = values['owner'];
    if (owner !== undefined) this.mayGive(owner, viewer);
    if (!values['address'] && !values['given_name'] && !values['family_name'])
      throw refuse('neither-name-nor-address');
    const written = this.writer.compare(undefined, values, fields);
    if (!written) throw refuse('nothing-to-keep');
    const poolId = (await housePool(this.db)).id;
    await this.guessing(
      viewer,
      this.refuseTaken(this.db, poolId, claimsOf(written.columns), undefined, viewer),
    );
    const ownerId = written.columns.ownerId ?? viewer.userId;
    const occasion = { kind: 'by hand', userId: viewer.userId, what: 'added by hand' } as const;
    const adding = this.database.transaction(async (tx) => {
      let added: ContactId | undefined;
      await this.writer.write(tx, occasion, fields, async (writing) => {
        [added] = await writing.add([{ values, poolId, ownerId }]);
      });
      if (added === undefined) throw new Error('the contact was not written');
      return added;
    });
    return this.guessing(viewer, adding);
  }

  async change(
    id: ContactId,
    request: ContactRequest,
    viewer: Viewer,
  ): Promise<{ changeSet: number | null; version: number }> {
    const fields = await this.vocabulary.fields();
    const values = this.readValues(request.values, fields);
    const what = Object.keys(values).map((key) => fields.get(key)?.label ?? key);
    return this.write(id, request.version, values, `changed ${what.join(', ')}`, viewer, fields);
  }

  async changePermission(
    id: ContactId,
    request: PermissionRequest,
    viewer: Viewer,
  ): Promise<{ changeSet: number | null; version: number }> {
    const said = Object.entries(permissionValues(this.termsOf(request)));
    const values = Object.fromEntries(
      said.filter(([key]) => key !== 'permission_wording' || request.wording !== undefined),
    );
    const fields = await this.vocabulary.fields();
    return this.write(id, request.version, values, 'changed permission', viewer, fields);
  }

  private termsOf({
    permission,
    source,
    wording = '',
  }: Omit<PermissionRequest, 'version'>): PermissionTerms {
    return {
      permission,
      at: permission === 'unknown' ? null : this.clock.now().toISOString(),
      source: oneLine(source),
      wording: manyLines(wording),
    };
  }

  private async write(
    id: ContactId,
    version: number,
    values: Values,
    what: string,
    viewer: Viewer,
    fields: ReadonlyMap<string, Field>,
  ): Promise<{ changeSet: number | null; version: number }> {
    const occasion = { kind: 'by hand', userId: viewer.userId, what } as const;
    const writing = this.database.transaction(async (tx) => {
      await this.person(id, viewer, tx);
      const row = await this.writer.lockSeen(tx, id, version, fields);
      const { owner } = values;
      if (Object.keys(values).some(isBelonging) && !owns(viewer, row))
        throw refuse('not-yours-to-say');
      if (owner !== undefined) this.mayGive(owner, viewer);
      const next = this.writer.compare(row, values, fields);
      await this.refuseTaken(tx, row.poolId, claimsOf({ ...row, ...next?.columns }), id, viewer);
      const changeSet = await this.writer.write(tx, occasion, fields, async (of) => {
        await of.change([{ row, values }]);
      });
      return { changeSet, version: changeSet === null ? version : version + 1 };
    });
    return this.guessing(viewer, writing);
  }

  /** What a person will be is judged as what they are: nobody gives away or takes whom they would not see. */
  private mayGive(owner: FieldValue, viewer: Viewer): void {
    if (!seesEverybody(viewer.role) && owner !== String(viewer.userId))
      throw refuse('not-yours-to-give');
  }

  /** That a colleague has this address can't be hidden from who tries to add it; whoever tries a list of them is stopped. */
  private async guessing<T>(viewer: Viewer, work: Promise<T>): Promise<T> {
    try {
      return await work;
    } catch (error) {
      if (
        !(error instanceof Problem && HIDDEN.has(error.type)) ||
        seesEverybody(viewer.role) ||
        (await mayLearnOf(this.db, viewer.userId, this.clock.now()))
      )
        throw error;
      throw refuse('many-addresses-tried');
    }
  }

  private async refuseTaken(
    db: Db,
    poolId: PoolId,
    claims: Claims,
    self: ContactId | undefined,
    viewer: Viewer,
  ): Promise<void> {
    const other = (await store.contactsClaiming(db, poolId, claims)).find(({ id }) => id !== self);
    if (!other) return;
    const isNumber =
      claims.externalKey !== undefined && other.keys['external_number'] === claims.externalKey;
    if (!sees(viewer, other))
      throw refuse(isNumber ? 'external-number-not-usable' : 'address-not-usable');
    throw refuse(isNumber ? 'external-number-taken' : 'address-taken').with({ person: other.id });
  }

  private require({ isRequired, label, key }: Field, value: FieldValue): void {
    if (isRequired && value === null) throw refuse('required-field', label).about(`values.${key}`);
  }

  private readValues(
    raw: Readonly<Record<string, string>>,
    fields: ReadonlyMap<string, Field>,
  ): Values {
    const values: Record<string, FieldValue> = {};
    for (const [key, text] of Object.entries(raw)) {
      const field = fields.get(key);
      if (!field || !(editableKeys.has(key) || key.startsWith('own_')))
        throw refuse('no-such-field').about(`values.${key.slice(0, 60)}`);
      if (typeof text !== 'string') throw refuse('not-text', field.label).about(`values.${key}`);
      if (key === 'address') {
        const parsed = parseAddress(text);
        if (!parsed.ok && parsed.error !== 'empty')
          throw refuse('no-address', addressProblems[parsed.error]);
        values[key] = parsed.ok ? parsed.value.address : null;
        continue;
      }
      const parsed = parseFieldValue(field, text);
      if (!parsed.ok) throw refuse('bad-value', parsed.error).about(`values.${key}`);
      if (key === 'owner' && parsed.value === null) throw refuse('no-owner');
      this.require(field, parsed.value);
      values[key] = parsed.value;
    }
    return values;
  }
}

const HIDDEN: ReadonlySet<string> = new Set([
  refuse('address-not-usable').type,
  refuse('external-number-not-usable').type,
  refuse('address-erased', '').type,
]);
