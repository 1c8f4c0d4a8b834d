// One stretch of what is done to many people: everybody meant, by their keys, locked and written by the one writer.
import { Inject, Injectable } from '@nestjs/common';
import {
  fieldOfDeed,
  permissionValues,
  refitted,
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
import { allOf, hasOwn, living } from '../people/people.store.js';
import { isFree, lockContacts, type LockedContact } from '../people/person.store.js';
import { isSetAtOnce, setField } from '../people/sets.store.js';
import { claimsOf, valueOf } from '../people/values.js';
import { PeopleWriter, type Writing } from '../people/writer.js';
import { keysAfter, type StretchDone } from './changes.store.js';
import type { Retyped } from './changes.table.js';

type Doing<K extends DeedName> = (
  writing: Writing,
  rows: readonly LockedContact[],
  deed: Extract<Deed, { readonly kind: K }>,
  at: { readonly tx: Db; readonly now: Date; readonly isFree: typeof isFree },
) => Promise<void>;

/** What is done person by person; a field is set in one statement. */
const doings: { readonly [K in Exclude<DeedName, 'field' | 'share'>]: Doing<K> } = {
  permission: (writing, rows, { permission, source, wording = '' }, { now }) =>
    writing.change(
      rows.map((row) => ({
        row,
        values: permissionValues({ permission, at: now.toISOString(), source, wording }),
      })),
    ),
  pool: async (writing, rows, { pool }, { tx, isFree }) => {
    const free: LockedContact[] = [];
    const claimed = new Set<string>();
    for (const row of rows) {
      // Two who come from different pools may have the same address: the first of them moves.
      const { addressKeys, externalKey } = claimsOf(row);
      const claims = [...addressKeys, ...(externalKey === undefined ? [] : [`#${externalKey}`])];
      if (claims.some((claim) => claimed.has(claim)) || !(await isFree(tx, row, pool))) continue;
      for (const claim of claims) claimed.add(claim);
      free.push(row);
    }
    await writing.change(free.map((row) => ({ row, values: { pool: String(pool) } })));
  },
  delete: (writing, rows) => writing.remove(rows),
};

interface Stretch {
  readonly set: ChangeSetId;
  readonly after: ContactId;
  readonly size: number;
}

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
    if (deed.kind === 'field' || deed.kind === 'share') {
      const field = fields.get(fieldOfDeed(deed) ?? '');
      if (deed.kind === 'field' && field && !isSetAtOnce(field))
        return this.eachStretch(tx, { set, after, size, meant, fields }, (writing, rows) =>
          writing.change(rows.map((row) => ({ row, values: { [field.key]: deed.value } }))),
        );
      const next = deed.kind === 'field' ? deed.value : { key: deed.colleague, put: deed.put };
      const stretch = { set, people: meant, after, size, now: this.clock.now() };
      const done = field && (await setField(tx, stretch, field, next));
      return done && { ...done, leftAlone: 0 };
    }
    const doing = doings[deed.kind] as unknown as Doing<DeedName>;
    return this.eachStretch(tx, { set, after, size, meant, fields }, async (writing, rows) => {
      await doing(writing, rows, deed, { tx, now: this.clock.now(), isFree });
      // Whose address somebody else of another pool has stays where they are.
      return deed.kind === 'pool' ? rows.length - writing.changed : 0;
    });
  }

  /** People of one stretch, locked and written one by one; `write` says how many were left alone, if any were. */
  private async eachStretch(
    tx: Db,
    {
      set,
      after,
      size,
      meant,
      fields,
    }: Stretch & { readonly meant: SQL; readonly fields: ReadonlyMap<string, Field> },
    write: (writing: Writing, rows: readonly LockedContact[]) => Promise<number | void>,
  ): Promise<StretchDone | undefined> {
    const ids = await keysAfter(tx, meant, after, size);
    const last = ids.at(-1);
    if (last === undefined) return undefined;
    const rows = await lockContacts(tx, ids);
    // The writer counts whom it changes.
    const leftAlone = await write(this.writer.goOn(tx, set, fields), rows);
    return { changed: 0, leftAlone: leftAlone ?? 0, last };
  }

  /** Makes what is kept in a field fit its new type; what does not is cleared, and kept with the change. */
  async retypeStretch(
    tx: Db,
    { set, after, size }: Stretch,
    { from, to }: Retyped,
    fields: ReadonlyMap<string, Field>,
  ): Promise<StretchDone | undefined> {
    const ids = await keysAfter(tx, allOf(living, hasOwn(to.key)), after, size);
    const last = ids.at(-1);
    if (last === undefined) return undefined;
    const rows = await lockContacts(tx, ids);
    await this.writer.goOn(tx, set, fields).change(
      rows.map((row) => ({
        row,
        values: { [to.key]: refitted(from, to, valueOf(row, to.key)) ?? null },
      })),
    );
    return { changed: 0, leftAlone: 0, last };
  }
}
