// "Every number opens": other capabilities say here which people their numbers stand for.
import { Injectable } from '@nestjs/common';
import { parsePeopleRef, type PeopleRef } from '@palabra/core/contacts';
import type { Viewer } from '@palabra/core/office';
import type { SQL } from 'drizzle-orm';
import type { PeopleFilter } from '@palabra/contract/contacts';
import { Database } from '../platform/database.js';
import { Problem } from '../platform/problem.js';
import { housePool } from './vocabulary.store.js';
import { allOf, inPool, living, matchesSearch, scope, standsAs, tagged } from './people.store.js';

export interface PeopleSet {
  readonly title: string;
  /** A condition on `contacts c`. */
  readonly among: SQL;
}

export type PeopleSetResolver = (ref: PeopleRef, viewer: Viewer) => Promise<PeopleSet | undefined>;

export interface ResolvedPeople {
  readonly title: string | null;
  /** Everybody in the set, whoever asks. */
  readonly all: SQL;
  /** Of those, the ones the asker may see. */
  readonly seen: SQL;
  /** The one pool that all of them are in, where the filter says so. */
  readonly pool: number | undefined;
}

@Injectable()
export class PeopleSets {
  private readonly resolvers = new Map<string, PeopleSetResolver>();

  constructor(private readonly database: Database) {}

  register(kind: string, resolver: PeopleSetResolver): void {
    this.resolvers.set(kind, resolver);
  }

  async resolve(filter: PeopleFilter, viewer: Viewer): Promise<ResolvedPeople> {
    const conditions: SQL[] = [living];
    let title: string | null = null;
    if (filter.of) {
      const set = await this.named(filter.of, viewer);
      title = set.title;
      conditions.push(set.among);
    }
    const pool = filter.pool ?? (filter.of ? undefined : (await housePool(this.database.db)).id);
    if (pool !== undefined) conditions.push(inPool(pool));
    if (filter.tag) conditions.push(tagged(filter.tag));
    if (filter.standing) conditions.push(standsAs(filter.standing));
    if (filter.q) conditions.push(...matchesSearch(filter.q));
    const all = allOf(...conditions);
    return { title, all, seen: allOf(all, scope(viewer)), pool };
  }

  private async named(text: string, viewer: Viewer): Promise<PeopleSet> {
    const ref = parsePeopleRef(text);
    const set = ref && (await this.resolvers.get(ref.kind)?.(ref, viewer));
    if (!set) throw new Problem(404, 'This set of people is not there any more.');
    return set;
  }
}
