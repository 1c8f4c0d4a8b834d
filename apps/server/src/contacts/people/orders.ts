// Long lists in an order that no index has: sorting everybody for every page is what takes time, so the keys are kept in
// their order for a moment, as long as nothing is written that a list may ask: pages and the sums above them are of one state.
import { createHash } from 'node:crypto';
import type { ContactId } from '@palabra/core/contacts';
import { Injectable } from '@nestjs/common';
import type { SQL } from 'drizzle-orm';
import { PgDialect } from 'drizzle-orm/pg-core';
import { Database } from '../../platform/database.js';
import { isNobodyWriting, readWrites } from '../../platform/writes.store.js';
import { keysInOrder } from './people.store.js';

/** What changes with the clock alone may be as old as this. */
const FRESH_MS = 30_000;
const KEPT = 12;

interface Kept {
  readonly ids: readonly ContactId[];
  readonly state: string;
  readonly until: number;
}

@Injectable()
export class Orders {
  private readonly kept = new Map<string, Kept>();
  private readonly dialect = new PgDialect({ casing: 'snake_case' });

  constructor(private readonly database: Database) {}

  /** The keys of some people (a condition on `contacts c`) in an order. Whoever left the list meanwhile may be among them. */
  async of(people: SQL, order: SQL): Promise<readonly ContactId[]> {
    const { db } = this.database;
    const key = this.nameOf(people, order);
    const state = JSON.stringify(await readWrites(db));
    const known = this.kept.get(key);
    if (known?.state === state && known.until > Date.now()) return known.ids;
    // What is being written is counted before it is seen.
    const isSure = await isNobodyWriting(db);
    const ids = await keysInOrder(db, people, order);
    this.kept.delete(key);
    if (!isSure) return ids;
    this.kept.set(key, { ids, state, until: Date.now() + FRESH_MS });
    for (const oldest of this.kept.keys()) {
      if (this.kept.size <= KEPT) break;
      this.kept.delete(oldest);
    }
    return ids;
  }

  private nameOf(people: SQL, order: SQL): string {
    const hash = createHash('sha256');
    for (const part of [people, order]) hash.update(JSON.stringify(this.dialect.sqlToQuery(part)));
    return hash.digest('base64');
  }
}
