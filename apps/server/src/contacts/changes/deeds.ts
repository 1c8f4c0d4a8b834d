// One stretch of what is done to many people: everybody meant, by their keys, locked and written by the one writer.
import { Inject, Injectable } from '@nestjs/common';
import {
  permissionValues,
  type ChangeSetId,
  type ContactId,
  type Deed,
  type DeedName,
  type Field,
} from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import type { SQL } from 'drizzle-orm';
import type { Db } from '../../platform/database.js';
import { CLOCK } from '../../platform/time.js';
import { lockContacts, type LockedContact } from '../people/person.store.js';
import { PeopleWriter, type Writing } from '../people/writer.js';
import { keysAfter, type StretchDone } from './changes.store.js';

type Doing<K extends DeedName> = (
  writing: Writing,
  rows: readonly LockedContact[],
  deed: Extract<Deed, { readonly kind: K }>,
  now: Date,
) => Promise<void>;

const doings: { readonly [K in DeedName]: Doing<K> } = {
  field: (writing, rows, { field, value }) =>
    writing.change(rows.map((row) => ({ row, values: { [field]: value } }))),
  permission: (writing, rows, { permission, source }, now) =>
    writing.change(
      rows.map((row) => ({
        row,
        values: permissionValues({ permission, at: now.toISOString(), source }),
      })),
    ),
  delete: (writing, rows) => writing.remove(rows),
};

@Injectable()
export class DeedWork {
  constructor(
    private readonly writer: PeopleWriter,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  /** Undefined at the end. */
  async stretch(
    tx: Db,
    set: ChangeSetId,
    { deed, meant }: { readonly deed: Deed; readonly meant: SQL },
    after: ContactId,
    size: number,
    fields: ReadonlyMap<string, Field>,
  ): Promise<StretchDone | undefined> {
    const ids = await keysAfter(tx, meant, after, size);
    const last = ids.at(-1);
    if (last === undefined) return undefined;
    const doing = doings[deed.kind] as unknown as Doing<DeedName>;
    const rows = await lockContacts(tx, ids);
    await doing(this.writer.goOn(tx, set, fields), rows, deed, this.clock.now());
    // The writer has counted them.
    return { changed: 0, leftAlone: 0, last };
  }
}
