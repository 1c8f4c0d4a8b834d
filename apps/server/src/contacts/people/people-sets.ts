// "Every number opens": other capabilities say here which people their numbers stand for.
import { idOf } from '@palabra/core/kernel';
import { Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import {
  parsePeopleRef,
  peopleKinds,
  type ContactId,
  type PeopleKind,
  type PeopleRef,
  type PoolId,
} from '@palabra/core/contacts';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import type { SQL } from 'drizzle-orm';
import type { PeopleFilter, PeopleSelection } from '@palabra/contract/contacts';
import { Database } from '../../platform/database.js';
import { refuse } from '../contacts.refusals.js';
import { homeOf } from '../fields/fields.store.js';
import { allTags, housePool } from '../vocabulary/vocabulary.store.js';
import {
  allOf,
  gone,
  inPool,
  living,
  matchesSearch,
  notIn,
  standsAs,
  tagged,
  theseOnes,
} from './people.store.js';
import { scope } from './scope.store.js';

export interface PeopleSet {
  readonly title: string;
  /** A condition on `contacts c`. */
  readonly among: SQL;
  /** Whether it is about what happened, so that its number counts people who were deleted since. */
  readonly isRecord?: boolean;
  /** Where it is another one than that of its kind. */
  readonly scope?: PeopleScope;
}

/** Whether others define these sets for all of the office: then a member may know how many people of colleagues are in one. */
export type PeopleScope = 'of the office' | 'of whoever asks';

/** `I`: what the key in the name of such a set is of. */
export type PeopleSetResolver<I extends number = number> = (
  ref: PeopleRef & { readonly id: I },
  viewer: Viewer,
) => Promise<PeopleSet | undefined>;

export interface ResolvedPeople {
  readonly title: string | null;
  /** Those in the set whom the asker may see. */
  readonly seen: SQL;
  /** Everybody in it, where the asker may know how many they are: a member never does of what they narrow themselves. */
  readonly all: SQL | undefined;
  /** Who was there and was deleted since, where the set is about what happened. */
  readonly deleted: SQL | undefined;
  /** The one pool that all of them are in, where the filter says so. */
  readonly pool: PoolId | undefined;
}

interface Registered {
  readonly scope: PeopleScope;
  readonly resolve: PeopleSetResolver;
}

@Injectable()
export class PeopleSets implements OnApplicationBootstrap {
  private readonly registered = new Map<PeopleKind, Registered>();
  private filters: ((key: string) => Promise<SQL | undefined>) | undefined;

  constructor(private readonly database: Database) {}

  /** Whoever owns a kind of set says what its parts mean, and whom a number of it may tell of. */
  register<I extends number = number>(
    kind: PeopleKind,
    scope: PeopleScope,
    resolve: PeopleSetResolver<I>,
  ): void {
    this.registered.set(kind, { scope, resolve: resolve as unknown as PeopleSetResolver });
  }

  /** Whoever keeps rules to narrow by says what one means: a condition on `contacts c`, or undefined where it is gone. */
  registerFilters(resolve: (key: string) => Promise<SQL | undefined>): void {
    this.filters = resolve;
  }

  onApplicationBootstrap(): void {
    if (!this.filters) throw new Error('nobody says what filters mean');
    const missing = peopleKinds.filter((kind) => !this.registered.has(kind));
    if (missing.length > 0)
      throw new Error(`nobody says who is in these sets of people: ${missing.join(', ')}`);
  }

  async resolve(filter: PeopleFilter, viewer: Viewer): Promise<ResolvedPeople> {
    const conditions: SQL[] = [];
    const named = filter.of ? await this.named(filter.of, viewer) : undefined;
    const set = named?.set;
    if (set) conditions.push(set.among);
    const house = filter.of ? undefined : (await housePool(this.database.db)).id;
    const pool = filter.pool === undefined ? house : idOf<PoolId>(filter.pool);
    if (pool !== undefined) conditions.push(inPool(pool));
    if (filter.tag) conditions.push(tagged(idOf(filter.tag)));
    if (filter.standing) conditions.push(standsAs(filter.standing));
    if (filter.filter !== undefined) {
      const narrowed = await this.filters?.(filter.filter);
      if (!narrowed) throw refuse('no-such-filter');
      conditions.push(narrowed);
    }
    if (filter.q) {
      const { db } = this.database;
      conditions.push(...matchesSearch(filter.q, await allTags(db), await homeOf(db)));
    }
    const all = allOf(living, ...conditions);
    const deleted = set?.isRecord ? allOf(gone, ...conditions, scope(viewer)) : undefined;
    const isNarrowed =
      filter.pool !== undefined ||
      filter.tag !== undefined ||
      filter.standing !== undefined ||
      filter.filter !== undefined ||
      Boolean(filter.q);
    const mayCount =
      seesEverybody(viewer.role) || (named?.scope === 'of the office' && !isNarrowed);
    return {
      title: set?.title ?? null,
      all: mayCount ? all : undefined,
      seen: allOf(all, scope(viewer)),
      deleted,
      pool,
    };
  }

  /** Those who are meant and whom the asker sees: single people, or everybody in a filter but some. */
  async meant({ ids, except = [], ...filter }: PeopleSelection, viewer: Viewer): Promise<SQL> {
    const these = (some: readonly number[]): SQL =>
      theseOnes(some.map((id) => idOf<ContactId>(id)));
    if (ids) return allOf(living, these(ids), scope(viewer));
    const { seen } = await this.resolve(filter, viewer);
    return except.length === 0 ? seen : allOf(seen, notIn(these(except)));
  }

  private async named(
    text: string,
    viewer: Viewer,
  ): Promise<{ readonly set: PeopleSet; readonly scope: PeopleScope }> {
    const ref = parsePeopleRef(text);
    const owner = ref && this.registered.get(ref.kind);
    const set = owner && (await owner.resolve(ref, viewer));
    if (!set) throw refuse('no-such-set');
    return { set, scope: set.scope ?? owner.scope };
  }
}
