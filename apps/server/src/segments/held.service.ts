// For whom conditions hold, kept in memory as long as nothing that they ask was written: who changes one condition of six
// waits for that one alone, and the numbers beside a rule wait for nothing.
import { Injectable } from '@nestjs/common';
import { KeySet } from '@palabra/core/segments';
import type { SQL } from 'drizzle-orm';
import { lastKey } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { Foreground, Stride } from '../platform/stride.js';
import {
  askingOf,
  fillHeld,
  isNobodyWriting,
  readChanges,
  wordsFor,
  type Asking,
  type Changes,
} from './held.store.js';
import type { Stretch } from './rule.store.js';

/** A condition on `contacts c`. */
export interface Asked {
  /** Right for contacts within the stretch, where one is named. */
  readonly bind: (within?: Stretch) => SQL;
  /** How many looks at a contact it takes. */
  readonly weight: number;
}

/** So many looks at contacts are taken in one statement, and more of them a stretch of contacts at a time. */
const AT_ONCE = 1_600_000;
/** How many contact keys are looked at in one statement: at first so many that this many looks are taken. */
const STRETCH = { looks: 200_000, least: 500, most: 1_000_000 };
/** So much memory is used for sets, in bytes. */
const ROOM = 64 * 2 ** 20;

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

  constructor(
    private readonly database: Database,
    private readonly foreground: Foreground,
  ) {}

  /** For whom each of some conditions holds, deleted people too; undefined when nobody waits for it any more. */
  async of(asked: readonly Asked[], signal: AbortSignal): Promise<readonly KeySet[] | undefined> {
    try {
      return await this.find(asked, signal);
    } catch (error) {
      // Another who asked for the same left: it is looked up again.
      if (error instanceof Left) return signal.aborted ? undefined : await this.of(asked, signal);
      throw error;
    }
  }

  private async find(asked: readonly Asked[], signal: AbortSignal): Promise<readonly KeySet[]> {
    const changes = await readChanges(this.database.db);
    const all = asked.map((one) => ({ ...one, key: keyOf(askingOf(one.bind()), changes) }));
    const sets = all.map(({ key }) => this.recall(key));
    const missing = all.filter((_, at) => !sets[at]);
    if (missing.length > 0) {
      const last = await lastKey(this.database.db);
      // Who is writing may have been counted already and not be seen yet: what is found now would stay.
      const isSure = await isNobodyWriting(this.database.db);
      const looking = this.lookUp(missing, last, signal);
      all.forEach(({ key }, at) => {
        if (sets[at]) return;
        const nth = missing.findIndex((one) => one === all[at]);
        const set = looking.then((found) => found[nth] ?? KeySet.empty);
        // Each waits for it below; nobody else needs to hear that it failed.
        set.catch(() => undefined);
        sets[at] = set;
        if (isSure && key !== undefined) this.keep(key, set, last / 8 + 2 * key.length);
      });
    }
    return Promise.all(sets.map((set) => set ?? KeySet.empty));
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
    const words = asked.map(() => wordsFor(last));
    const weight = asked.reduce((sum, one) => sum + one.weight, 0);
    const look = (within?: Stretch): Promise<void> =>
      fillHeld(
        db,
        asked.map(({ bind }) => bind(within)),
        words,
        within,
      );
    if (weight * last <= AT_ONCE) await look();
    else {
      const stride = new Stride(
        this.foreground,
        Math.round(STRETCH.looks / weight),
        STRETCH.least,
        STRETCH.most,
      );
      await this.foreground.aside(async () => {
        for (let after = 0; after < last; ) {
          if (signal.aborted) throw new Left();
          after = await stride.step(async (size) => {
            await look({ after, upTo: after + size });
            return after + size;
          });
        }
      });
    }
    return words.map((each) => new KeySet(each));
  }
}

/** Undefined where the answer must not be kept. */
const keyOf = (
  { text, tables, isByTheClock }: Asking,
  changes: Changes,
): string | undefined =>
  isByTheClock
    ? undefined
    : `${changes.since.getTime()} ${tables.map((table) => changes[table]).join(' ')} ${text}`;
