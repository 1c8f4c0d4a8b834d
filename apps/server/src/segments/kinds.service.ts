// Live and fixed: who is listed in a fixed segment, how one kind becomes the other, and how large each is day by day.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { AddressesReply, MembersReply, SizeOnDay } from '@palabra/contract/segments';
import type { PeopleSelection } from '@palabra/contract/contacts';
import { addressKeysIn } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { addDays, dayIn, type Viewer } from '@palabra/core/office';
import type { SegmentId } from '@palabra/core/segments';
import { allOf, countPeople, living, PeopleSets, scope } from '../contacts/index.js';
import { theOffice } from '../office/index.js';
import { Database, type Db } from '../platform/database.js';
import { notFound } from '../platform/refusals.js';
import { CLOCK } from '../platform/time.js';
import { Upkeep } from '../platform/upkeep.js';
import * as members from './members.store.js';
import { RulesService } from './rules.service.js';
import { refuse } from './segments.refusals.js';
import { SegmentsService } from './segments.service.js';
import * as store from './segments.store.js';

/** Sizes are shown so far back, in days. */
const SHOWN_DAYS = 730;
/** Addresses that nobody has are named up to so many. */
const NAMED = 50;

@Injectable()
export class KindsService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly segments: SegmentsService,
    private readonly rules: RulesService,
    private readonly sets: PeopleSets,
    private readonly upkeep: Upkeep,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.upkeep.register(() => this.countOne());
  }

  /** Counts one segment that was not counted today yet. */
  private async countOne(): Promise<boolean> {
    const { db } = this.database;
    const day = await this.today();
    const id = await members.uncountedOn(db, day);
    const segment = id === undefined ? undefined : await store.segmentById(db, id);
    if (!segment) return false;
    const { people } = await this.rules.bind(segment);
    await members.keepSize(db, segment.id, day, await countPeople(db, allOf(living, people)));
    return true;
  }

  private async today(): Promise<string> {
    const { timeZone } = await theOffice(this.database.db);
    return dayIn(timeZone, this.clock.now());
  }

  /** What a member may not count today, they may not have counted before: only of their own segments do they see sizes. */
  async sizes(id: SegmentId, viewer: Viewer): Promise<SizeOnDay[]> {
    const segment = await this.segments.one(id, viewer);
    const mayCount = viewer.role !== 'member' || segment.ownerId === viewer.userId;
    return mayCount
      ? members.sizesOf(this.database.db, id, addDays(await this.today(), -SHOWN_DAYS))
      : [];
  }

  /** Lists who is in a live segment now; its rule is kept, in case it becomes live again. */
  async fix(id: SegmentId, version: number, viewer: Viewer): Promise<MembersReply> {
    const segment = await this.segments.own(id, viewer);
    if (segment.kind !== 'live') throw refuse('is-fixed');
    const { people, isFinished } = await this.rules.bind(segment);
    if (!isFinished) throw refuse('draft-blocked', 'Its rule in force asks for nobody yet.');
    const values = { kind: 'fixed', draftRule: null, draftPoolIds: null } as const;
    return this.changed(id, version, values, (tx, now) =>
      members.putMembers(tx, id, allOf(living, people), now),
    );
  }

  /** Follows its rule again; the list goes. */
  async unfix(id: SegmentId, version: number, viewer: Viewer): Promise<MembersReply> {
    const segment = await this.segments.own(id, viewer);
    if (segment.kind !== 'fixed') throw refuse('is-live');
    return this.changed(id, version, { kind: 'live' }, async (tx) => {
      await members.dropMembers(tx, id);
      return 0;
    });
  }

  async put(id: SegmentId, selection: PeopleSelection, viewer: Viewer): Promise<MembersReply> {
    const { version } = await this.fixed(id, viewer);
    const people = await this.sets.meant(selection, viewer);
    return this.changed(id, version, {}, (tx, now) => members.putMembers(tx, id, people, now));
  }

  async take(id: SegmentId, selection: PeopleSelection, viewer: Viewer): Promise<MembersReply> {
    const { version } = await this.fixed(id, viewer);
    const people = await this.sets.meant(selection, viewer);
    return this.changed(id, version, {}, (tx, now) => members.takeMembers(tx, id, people, now));
  }

  /** Takes back what was done to the list at a moment: just those who were put in or taken out then. */
  async undo(id: SegmentId, at: Date, viewer: Viewer): Promise<MembersReply> {
    const { version } = await this.fixed(id, viewer);
    return this.changed(id, version, {}, (tx) => members.undoMembers(tx, id, at));
  }

  /** Everybody whom the asker sees and whose address stands in a text. */
  async putAddresses(id: SegmentId, text: string, viewer: Viewer): Promise<AddressesReply> {
    const { version } = await this.fixed(id, viewer);
    const addresses = [...new Set(addressKeysIn(text))];
    if (addresses.length === 0) throw refuse('no-addresses');
    const people = allOf(living, scope(viewer), members.withAddresses(addresses));
    const known = new Set(await members.addressesOf(this.database.db, people, addresses));
    const unknown = addresses.filter((address) => !known.has(address));
    const done = await this.changed(id, version, {}, (tx, now) =>
      members.putMembers(tx, id, people, now),
    );
    return {
      ...done,
      found: known.size,
      unknown: unknown.slice(0, NAMED),
      unknownCount: unknown.length,
    };
  }

  private async fixed(id: SegmentId, viewer: Viewer): Promise<store.NamedSegment> {
    const segment = await this.segments.own(id, viewer);
    if (segment.kind !== 'fixed') throw refuse('is-live');
    return segment;
  }

  private async changed(
    id: SegmentId,
    version: number,
    values: Parameters<typeof store.changeSegment>[3],
    work: (tx: Db, now: Date) => Promise<number>,
  ): Promise<MembersReply> {
    const now = this.clock.now();
    return this.database.transaction(async (tx) => {
      const row = await store.changeSegment(tx, id, version, values, now);
      if (!row)
        throw (await store.segmentById(tx, id)) ? refuse('changed-meanwhile') : notFound('segment');
      return { changed: await work(tx, now), version: row.version, at: now.toISOString() };
    });
  }
}
