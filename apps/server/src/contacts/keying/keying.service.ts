// Keys follow what they are made by: another version of this program, or another country, whose numbers are dialled otherwise.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { isText, KEYS_VERSION, nameKey, textKey, type Field } from '@palabra/core/contacts';
import { findOffice } from '../../office/index.js';
import { Database, type Db } from '../../platform/database.js';
import { Jobs } from '../../platform/jobs.js';
import { Foreground, Stride } from '../../platform/stride.js';
import { allFields } from '../fields/fields.store.js';
import { shownKey, valueOf, type ContactRow } from '../people/values.js';
import * as store from './keying.store.js';

const WHOLE = 0;
const STRETCH = { first: 300, least: 50, most: 4000 };

@Injectable()
export class KeyingService implements OnModuleInit {
  private readonly stride: Stride;

  constructor(
    private readonly database: Database,
    private readonly jobs: Jobs,
    @Inject(Foreground) foreground: Foreground,
  ) {
    this.stride = new Stride(foreground, STRETCH.first, STRETCH.least, STRETCH.most);
  }

  onModuleInit(): void {
    const { db } = this.database;
    this.jobs.register('keying', {
      run: (_, signal) => this.makeAll(signal),
      unfinished: async () =>
        (await store.keying(db)).madeBy === (await this.wanted(db)) ? [] : [WHOLE],
      what: () => Promise.resolve('making anew what people are searched by'),
      leave: async () =>
        store.noteKeying(db, { madeBy: await this.wanted(db), cursor: null, aim: '' }),
    });
  }

  private async wanted(db: Db): Promise<string> {
    return `${KEYS_VERSION} ${(await findOffice(db))?.country ?? ''}`;
  }

  private async makeAll(signal: AbortSignal): Promise<void> {
    for (let isDone = false; !isDone && !signal.aborted;)
      isDone = await this.stride.step((size) =>
        this.database.transaction((tx) => this.makeSome(tx, size)),
      );
  }

  /** One stretch of people, from the first again where the aim is another one now. True at the end. */
  private async makeSome(tx: Db, size: number): Promise<boolean> {
    const now = await store.lockKeying(tx);
    const aim = await this.wanted(tx);
    if (now.madeBy === aim) return true;
    const after = now.aim === aim ? (now.cursor ?? 0) : 0;
    const rows = await store.peopleAfter(tx, after, size);
    const fields = await allFields(tx);
    await store.writeKeys(
      tx,
      rows.flatMap((row) => {
        const made = keysOf(row, fields);
        const isSame =
          made.searchKey === row.searchKey &&
          Object.keys(made.keys).length === Object.keys(row.keys).length &&
          Object.entries(made.keys).every(([key, value]) => row.keys[key] === value);
        return isSame ? [] : [{ id: row.id, ...made }];
      }),
    );
    const last = rows.at(-1)?.id;
    await store.noteKeying(
      tx,
      last === undefined || rows.length < size
        ? { madeBy: aim, aim: '', cursor: null }
        : { aim, cursor: last },
    );
    return last === undefined || rows.length < size;
  }
}

/** One person's of a pool: no key of it changes without being looked up. */
const APART = 'external_number';

function keysOf(row: ContactRow, fields: readonly Field[]): Omit<store.Keys, 'id'> {
  const keys = new Map(Object.entries(row.keys));
  for (const field of fields) {
    if (!isText(field) || field.key === APART) continue;
    const value = valueOf(row, field.key);
    const key =
      field.key === 'address'
        ? shownKey(row)
        : typeof value === 'string'
          ? textKey(field, value)
          : '';
    if (key === '') keys.delete(field.key);
    else keys.set(field.key, key);
  }
  return {
    keys: Object.fromEntries(keys),
    searchKey: nameKey({ given: row.givenName, family: row.familyName }),
  };
}
