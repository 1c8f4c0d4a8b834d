// "Every number opens": other capabilities say here which people their numbers stand for.
import { Injectable } from '@nestjs/common';
import { parsePeopleRef, type PeopleRef } from '@palabra/core/contacts';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import type { SQL } from 'drizzle-orm';
import type { PeopleFilter } from '@palabra/contract/contacts';
import { Database } from '../platform/database.js';
import { Problem } from '../platform/problem.js';
import { housePool } from './vocabulary.store.js';
import {
  allOf,
  gone,
  inPool,
  living,
  matchesSearch,
  scope,
  standsAs,
  tagged,
} from './people.store.js';

export interface PeopleSet {
  readonly title: string;
  /** A condition on `contacts c`. */
  readonly among: SQL;
  /** Whether it is about what happened, so that its number counts people who were deleted since. */
  readonly isRecord?: boolean;
  /** Whether others defined it for all of the office: then a member may know how many people of colleagues are in it. */
  readonly isShared?: boolean;
}

export type PeopleSetResolver = (ref: PeopleRef, viewer: Viewer) => Promise<PeopleSet | undefined>;

export interface ResolvedPeople {
  readonly title: string | null;
  /** Those in the set whom the asker may see. */
  readonly seen: SQL;
  /** Everybody in it, where the asker may know how many they are: a member never does of what they narrow themselves. */
  readonly all: SQL | undefined;
  /** Who was there and was deleted since, where the set is about what happened. */
  readonly deleted: SQL | undefined;
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
    const conditions: SQL[] = [];
    const set = filter.of ? await this.named(filter.of, viewer) : undefined;
    if (set) conditions.push(set.among);
    const pool = filter.pool ?? (filter.of ? undefined : (await housePool(this.database.db)).id);
    if (pool !== undefined) conditions.push(inPool(pool));
    if (filter.tag) conditions.push(tagged(filter.tag));
    if (filter.standing) conditions.push(standsAs(filter.standing));
    if (filter.q) conditions.push(...matchesSearch(filter.q));
    const all = allOf(living, ...conditions);
    const deleted = set?.isRecord ? allOf(gone, ...conditions, scope(viewer)) : undefined;
    const isNarrowed =
      filter.pool !== undefined ||
      filter.tag !== undefined ||
      filter.standing !== undefined ||
      Boolean(filter.q);
    const mayCount = seesEverybody(viewer.role) || (set?.isShared === true && !isNarrowed);
    return {
      title: set?.title ?? null,
      all: mayCount ? all : undefined,
      seen: allOf(all, scope(viewer)),
      deleted,
      pool,
    };
  }

  private async named(text: string, viewer: Viewer): Promise<PeopleSet> {
    const ref = parsePeopleRef(text);
    const set = ref && (await this.resolvers.get(ref.kind)?.(ref, viewer));
    if (!set) throw new Problem(404, 'This set of people is not there any more.');
    return set;
  }
}
