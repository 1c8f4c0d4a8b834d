// How a person stands to being mailed, as the office says it.
import { Inject, Injectable } from '@nestjs/common';
import type { DoNotMailRequest, PermissionLine } from '@palabra/contract/contacts';
import { oneLine, type ContactId } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import type { Viewer } from '@palabra/core/office';
import { Database } from '../../platform/database.js';
import { CLOCK } from '../../platform/time.js';
import { refuse } from '../contacts.refusals.js';
import { PeopleService } from '../people/people.service.js';
import { PeopleWriter } from '../people/writer.js';
import {
  doNotMailEntry,
  mayTakeOff,
  putOnDoNotMail,
  takeOffDoNotMail,
} from './do-not-mail.store.js';
import { tryAgain } from './facts.store.js';
import { permissionsOf } from './permissions.store.js';

/** More often than anybody changes their mind. */
const PERMISSIONS = 200;

@Injectable()
export class StandingService {
  constructor(
    private readonly database: Database,
    private readonly people: PeopleService,
    private readonly writer: PeopleWriter,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  /** After soft bounces in a row: the next letter is tried again. */
  async tryAgain(id: ContactId, viewer: Viewer): Promise<void> {
    await this.people.person(id, viewer);
    await tryAgain(this.database.db, id, this.clock.now());
  }

  async permissions(id: ContactId, viewer: Viewer): Promise<PermissionLine[]> {
    await this.people.person(id, viewer);
    const rows = await permissionsOf(this.database.db, id, PERMISSIONS);
    return rows.map((row) => ({
      kind: row.kind,
      at: row.at.toISOString(),
      agreedAt: row.agreed_at?.toISOString() ?? null,
      source: row.source,
      wording: row.wording,
      what: row.what,
      by: row.by,
    }));
  }

  async setDoNotMail(id: ContactId, request: DoNotMailRequest, viewer: Viewer): Promise<void> {
    const now = this.clock.now();
    const { put } = request;
    await this.database.transaction(async (tx) => {
      const { address, addressHash } = await this.people.person(id, viewer, tx);
      if (!addressHash) throw refuse('has-no-address');
      const entry = await doNotMailEntry(tx, addressHash);
      if (!put && entry && !mayTakeOff(entry, viewer))
        throw refuse(entry.reason === 'by hand' ? 'colleague-put-there' : 'only-the-reader');
      if (put === (entry !== undefined)) return;
      if (put)
        await putOnDoNotMail(tx, {
          addressHash,
          address,
          reason: 'by hand',
          at: now,
          note: oneLine(request.note),
          userId: viewer.userId,
        });
      else await takeOffDoNotMail(tx, addressHash, now);
      await this.writer.write(
        tx,
        {
          kind: 'by hand',
          userId: viewer.userId,
          what: put ? 'put on do not mail' : 'taken off do not mail',
        },
        new Map(),
        (writing) =>
          writing.mark(
            id,
            { do_not_mail: !put, ...(entry?.note ? { note: entry.note } : {}) },
            { do_not_mail: put },
          ),
      );
    });
  }
}
