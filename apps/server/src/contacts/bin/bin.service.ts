// Bringing people back from the bin.
import { Inject, Injectable } from '@nestjs/common';
import type { BinPage, BinQuery } from '@palabra/contract/contacts';
import { displayName, type ContactId } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import type { Viewer } from '@palabra/core/office';
import { Database } from '../../platform/database.js';
import { notFound } from '../../platform/refusals.js';
import { CLOCK } from '../../platform/time.js';
import { refuse } from '../contacts.refusals.js';
import { allOf, gone, matchesSearch } from '../people/people.store.js';
import { owned, owns } from '../people/scope.store.js';
import { contactsClaiming, lockDeleted } from '../people/person.store.js';
import { homeOf } from '../fields/fields.store.js';
import { claimsOf } from '../people/values.js';
import { PeopleWriter } from '../people/writer.js';
import { VocabularyService } from '../vocabulary/vocabulary.service.js';
import { countInBin, inBin, tagsWhenDeleted } from './bin.store.js';

/** As long as a change can be taken back. */
const BIN_DAYS = 30;
const DAY = 86_400_000;

@Injectable()
export class BinService {
  constructor(
    private readonly database: Database,
    private readonly writer: PeopleWriter,
    private readonly vocabulary: VocabularyService,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  private since(): Date {
    return new Date(this.clock.now().getTime() - BIN_DAYS * DAY);
  }

  async list({ q, from = 0, limit = 100 }: BinQuery, viewer: Viewer): Promise<BinPage> {
    const { db } = this.database;
    const people = allOf(gone, owned(viewer), ...matchesSearch(q ?? '', [], await homeOf(db)));
    const lines = await inBin(db, people, this.since(), { from, limit });
    return {
      total: await countInBin(db, people, this.since()),
      rows: lines.map((line) => ({
        id: line.id,
        name: displayName({ given: line.given_name, family: line.family_name }, line.address),
        address: line.address,
        deletedAt: line.deleted_at.toISOString(),
        until: new Date(line.deleted_at.getTime() + BIN_DAYS * DAY).toISOString(),
        what: line.what,
        by: line.by,
      })),
    };
  }

  /** With the tags they had, unless somebody else has their address meanwhile. */
  async bringBack(id: ContactId, viewer: Viewer): Promise<void> {
    const fields = await this.vocabulary.fields();
    await this.database.transaction(async (tx) => {
      const [row] = await lockDeleted(tx, [id]);
      if (!row || !owns(viewer, row) || !row.deletedAt || row.deletedAt < this.since())
        throw notFound('person');
      const [other] = await contactsClaiming(tx, row.poolId, claimsOf(row));
      if (other) throw refuse('address-taken');
      const tags = await tagsWhenDeleted(tx, id);
      await this.writer.write(
        tx,
        { kind: 'by hand', userId: viewer.userId, what: 'brought back from the bin' },
        fields,
        (writing) => writing.bringBack([{ row, tags }]),
      );
    });
  }
}
