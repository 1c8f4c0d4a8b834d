// For whom conditions hold, kept in memory as long as nothing that they ask was written: who changes one condition of six
// waits for that one alone, and the numbers beside a rule wait for nothing.
import { Injectable } from '@nestjs/common';
import { KeySet } from '@palabra/core/segments';
import type { SQL } from 'drizzle-orm';
import { lastKey } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { Foreground, Stride } from '../platform/stride.js';
import { isNobodyWriting, readWrites, type Writes } from '../platform/writes.store.js';
import { askingOf, fillHeld, inSet, wordsFor, type Asking, type Filled } from './held.store.js';
import type { Stretch } from './rule.store.js';

/** A condition on `contacts c`. */
export interface Asked {
  /** Right for contacts within the stretch, where one is named. */
  readonly bind: (within?: Stretch) => SQL;
  /** What finds them, or all but them, without a look at contacts. */
  readonly query?: Filled['query'];
  /** How many looks at a contact it takes. */
  readonly weight: number;
}

/** So few conditions find their people each in its own way, in a statement of its own; for more of them everybody is looked at once. */
const FEW = 2;
/** So many looks at contacts are taken without letting others in between, and more of them a stretch of contacts at a time. */
const AT_ONCE = { few: 4_000_000, many: 1_600_000 };
/** A database server answers others meanwhile. */
const MORE_ON_A_SERVER = 10;
/** How many contact keys are looked at in one statement: at first so many that this many looks are taken. */
const STRETCH = { looks: 50_000, least: 50, most: 1_000_000 };
/** So much memory is used for sets, in bytes. */
const ROOM = 64 * 2 ** 20;

/** Of whoever waits until it is there. */
const NEVER = new AbortController().signal;

interface Kept {
  readonly set: Promise<KeySet>;
  readonly bytes: number;
}

/** Nobody waits for the answer any more. */
class Left extends Error {}

@Injectable()
export class HeldService {
  /** By what is asked and how often its tables were written; what was asked for last stands last. */
  private readonly kept = new Map<string, Kept>();
  private bytes = 0;
  /** How many look at everybody a stretch at a time just now. */
  private strides = 0;

  constructor(
    private readonly database: Database,
    private readonly foreground: Foreground,
  ) {}

  /** For whom each of some conditions holds, deleted people and keys without anybody too; undefined when nobody waits for it any more. */
  async of(asked: readonly Asked[], signal: AbortSignal): Promise<readonly KeySet[] | undefined> {
    try {
      return await this.find(asked, signal);
    } catch (error) {
      // Another who asked for the same left: it is looked up again.
      if (error instanceof Left) return signal.aborted ? undefined : await this.of(asked, signal);
      throw error;
    }
  }

  /** Whom a condition finds and others don’t, as one that costs next to nothing: for lists that are opened, paged and counted. */
  async among(asked: Asked, ...butNot: readonly Asked[]): Promise<SQL> {
    const [found = KeySet.empty, ...others] = (await this.of([asked, ...butNot], NEVER)) ?? [];
    return inSet(others.reduce((left, other) => left.without(other), found));
  }

  private async find(asked: readonly Asked[], signal: AbortSignal): Promise<readonly KeySet[]> {
    const { db } = this.database;
    const writes = await readWrites(db);
    const all = asked.map((one) => ({ ...one, key: keyOf(askingOf(one.bind()), writes) }));
    const recall = (): (Promise<KeySet> | undefined)[] => all.map(({ key }) => this.recall(key));
    if (!recall().includes(undefined)) return this.wait(recall());
    const last = await lastKey(db);
    // Who is writing may have been counted already and not be seen yet: what is found now would stay.
    const isSure = await isNobodyWriting(db);
    // Somebody else may look for the same by now, so what is still missing is told and begun in one go.
    const known = recall();
    const missing = all.filter((_, at) => !known[at]);
    const looking = this.lookUp(missing, last, signal);
    const looked = missing.map(({ key }, at) => {
      const set = looking.then((sets) => sets[at] ?? KeySet.empty);
      if (isSure && key !== undefined) this.keep(key, set, last / 8 + 2 * key.length);
      return set;
    });
    const rest = looked.values();
    return this.wait(known.map((set) => set ?? rest.next().value));
  }

  /** Who waits for long work is not waited for by it. */
  private wait(sets: readonly (Promise<KeySet> | undefined)[]): Promise<readonly KeySet[]> {
    const all = (): Promise<readonly KeySet[]> => complete(sets);
    return this.strides > 0 ? this.foreground.aside(all) : all();
  }

  private recall(key: string | undefined): Promise<KeySet> | undefined {
    const kept = key === undefined ? undefined : this.kept.get(key);
    if (key === undefined || !kept) return undefined;
    this.kept.delete(key);
    this.kept.set(key, kept);
    return kept.set;
  }

  private keep(key: string, set: Promise<KeySet>, bytes: number): void {
    this.drop(key);
    this.kept.set(key, { set, bytes });
    this.bytes += bytes;
    set.catch(() => {
      if (this.kept.get(key)?.set === set) this.drop(key);
    });
    for (const oldest of this.kept.keys()) {
      if (this.bytes <= ROOM) break;
      this.drop(oldest);
    }
  }

  private drop(key: string): void {
    this.bytes -= this.kept.get(key)?.bytes ?? 0;
    this.kept.delete(key);
  }

  /** Looks at everybody: at once where that is quick, else so many keys at a time that nobody waits long. */
  private async lookUp(
    asked: readonly Asked[],
    last: number,
    signal: AbortSignal,
  ): Promise<readonly KeySet[]> {
    const { db } = this.database;
    const sets = asked.map((one) => ({ ...one, words: wordsFor(last) }));
    const weight = asked.reduce((sum, one) => sum + one.weight, 0);
    const look = (some: typeof sets, within?: Stretch): Promise<void> =>
      fillHeld(
        db,
        some.map(({ bind, query, words }) => ({ condition: bind(within), query, words })),
        within,
      );
    const isFew = asked.length <= FEW;
    const most =
      AT_ONCE[isFew ? 'few' : 'many'] * (this.database.isEmbedded ? 1 : MORE_ON_A_SERVER);
    if (weight * last <= most)
      for (const some of isFew ? sets.map((one) => [one]) : [sets]) await look(some);
    else {
      this.strides++;
      try {
        await this.inStretches(weight, last, signal, (within) => look(sets, within));
      } finally {
        this.strides--;
      }
    }
    return sets.map(({ words }) => new KeySet(words));
  }

  private async inStretches(
    weight: number,
    last: number,
    signal: AbortSignal,
    look: (within: Stretch) => Promise<void>,
  ): Promise<void> {
    const first = Math.round(STRETCH.looks / weight);
    const stride = new Stride(this.foreground, first, STRETCH.least, STRETCH.most);
    for (let after = 0; after < last;) {
      if (signal.aborted) throw new Left();
      after = await stride.step(async (size) => {
        await look({ after, upTo: after + size });
        return after + size;
      });
    }
  }
}

/** A set that is not there would be taken for nobody. */
const complete = (sets: readonly (Promise<KeySet> | undefined)[]): Promise<KeySet[]> =>
  Promise.all(sets.map((set) => set ?? Promise.reject(new Error('a condition was not looked up'))));

/** Undefined where the answer must not be kept. */
const keyOf = ({ text, tables, isByTheClock }: Asking, writes: Writes): string | undefined =>
  isByTheClock ? undefined : `${tables.map((table) => writes[table]).join(' ')} ${text}`;
