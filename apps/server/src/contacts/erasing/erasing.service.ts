// Erasing somebody at their request, emptying the bin, and telling somebody what is held about them.
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { ErasingReply, ErasureReply } from '@palabra/contract/contacts';
import {
  displayName,
  parseAddress,
  type ContactId,
  type PersonalPlace,
} from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import type { Config } from '../../platform/config.js';
import { Database, type Db } from '../../platform/database.js';
import { Jobs } from '../../platform/jobs.js';
import { Keys } from '../../platform/keys.js';
import { notFound } from '../../platform/refusals.js';
import { CLOCK, CONFIG } from '../../platform/time.js';
import { Upkeep } from '../../platform/upkeep.js';
import { openChangeSet } from '../changes/changes.store.js';
import { refuse } from '../contacts.refusals.js';
import type { ContactRow } from '../people/values.js';
import { allPools } from '../vocabulary/vocabulary.store.js';
import * as store from './erasing.store.js';
import { PersonalPlaces, type Held, type Whose } from './places.js';

/** As long as a change can be taken back. */
const BIN_MS = 30 * 86_400_000;
const PURGED_AT_ONCE = 200;
/** Beside the data: a line for every backup that was made, `{ "at": …, "file": … }`. */
const BACKUPS = 'backups.jsonl';

/** What one place holds. */
interface Told {
  readonly place: PersonalPlace;
  readonly lines: readonly Held[];
}

interface Meant {
  readonly rows: readonly ContactRow[];
  readonly whose: Whose;
}

@Injectable()
export class ErasingService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly places: PersonalPlaces,
    private readonly keys: Keys,
    private readonly jobs: Jobs,
    private readonly upkeep: Upkeep,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    const { db } = this.database;
    this.upkeep.register(() => this.purge());
    this.jobs.register('erasing', {
      run: (id, signal) => this.goThrough(id, signal),
      unfinished: () => store.openErasures(db),
      what: () => Promise.resolve('taking an erased person out of files and mail'),
      leave: (id) => store.stepErasure(db, id, { finishedAt: this.clock.now() }),
    });
  }

  /** Everybody who is this person, and all that is theirs. */
  private async meant(db: Db, id: ContactId): Promise<Meant> {
    const [own] = await store.samePerson(db, id, []);
    if (!own) throw notFound('person');
    const rows = await store.samePerson(db, id, hashesOf(own));
    const people = rows.map((row) => row.id);
    const known = new Map<string, { readonly key: string; readonly hash: Buffer }>();
    for (const [, { addresses }] of this.places.all)
      for (const address of (await addresses?.(db, people)) ?? []) {
        const parsed = parseAddress(address);
        if (parsed.ok)
          known.set(parsed.value.address, {
            key: parsed.value.key,
            hash: this.keys.addressHash(parsed.value.key),
          });
      }
    const all = [
      ...[...known.values()].map(({ hash }) => hash),
      ...rows.flatMap((row) => [...hashesOf(row), ...(row.formerHash ? [row.formerHash] : [])]),
    ];
    // A former address may be somebody else's by now.
    const taken = await store.takenHashes(db, all, people);
    const isFree = (hash: Buffer): boolean => !taken.has(hash.toString('hex'));
    const free = [...known].filter(([, { hash }]) => isFree(hash));
    const keys = new Set(free.map(([, { key }]) => key));
    return {
      rows,
      whose: {
        people,
        addresses: [...new Set(free.flatMap(([address, { key }]) => [address, key]))],
        hashes: [
          ...new Map(all.filter(isFree).map((hash) => [hash.toString('hex'), hash])).values(),
        ],
        isTheirs: (key) => keys.has(key),
        names: rows.flatMap(nameOf),
        now: this.clock.now(),
      },
    };
  }

  /** What would go. */
  async look(id: ContactId): Promise<ErasingReply> {
    const { db } = this.database;
    const { rows, whose } = await this.meant(db, id);
    const pools = await allPools(db);
    const places = await this.told(db, whose);
    return {
      people: rows.map((row) => ({
        id: row.id,
        name: calledIn(row),
        pool: pools.find((pool) => pool.id === row.poolId)?.name ?? '',
      })),
      addresses: whose.addresses,
      places: places.map(({ place, lines }) => ({ place, count: lines.length })),
      backups: await this.backupsSince(rows),
      isServer: this.config.databaseUrl !== undefined,
    };
  }

  /** Everything that is held about somebody, place by place. */
  async held(id: ContactId): Promise<{ readonly name: string; readonly places: readonly Told[] }> {
    const { db } = this.database;
    const { rows, whose } = await this.meant(db, id);
    const row = rows.find((one) => one.id === id);
    return { name: row ? calledIn(row) : 'somebody', places: await this.told(db, whose) };
  }

  private async told(db: Db, whose: Whose): Promise<Told[]> {
    const places: Told[] = [];
    for (const [place, { held }] of this.places.all)
      places.push({ place, lines: await held(db, whose) });
    return places;
  }

  /**
   * At once, in one transaction; only imported files and mail from others, which may be much, are gone through right
   * behind it. Refuses
   * while a letter to them is in the mail server's hands.
   */
  async erase(id: ContactId, viewer: Viewer): Promise<void> {
    await this.database.transaction(async (tx) => {
      const before = await this.meant(tx, id);
      await store.lockAny(tx, before.whose.people);
      const { rows, whose } = await this.meant(tx, id);
      if (rows.some(({ id: one }) => !before.whose.people.includes(one)))
        throw refuse('changed-meanwhile');
      for (const [, { forget }] of this.places.all) await forget(tx, whose);
      for (const [, place] of this.places.all) await place.refuse?.(tx, whose);
      await store.keepAway(tx, whose.hashes, whose.now);
      await openChangeSet(tx, {
        kind: 'erasing',
        userId: viewer.userId,
        at: whose.now,
        what: 'erased a person, at their own request',
        undoable: false,
      });
      await this.writeDown(tx, whose, viewer, await this.backupsSince(rows));
    });
  }

  private async writeDown(
    tx: Db,
    { people, hashes, now }: Whose,
    viewer: Viewer | undefined,
    backups: readonly string[],
  ): Promise<void> {
    const erasure = await store.addErasure(tx, {
      at: now,
      userId: viewer?.userId ?? null,
      isAsked: viewer !== undefined,
      people,
      hashes,
      backups,
    });
    await this.jobs.nudge('erasing', erasure, tx);
  }

  /** What takes longer than a transaction may: place after place, each from where it was left. */
  private async goThrough(id: number, signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    const erasure = await store.erasureById(db, id);
    if (!erasure || erasure.finishedAt) return;
    const theirs = new Set(erasure.hashes.map((hash) => hash.toString('hex')));
    const gone = {
      people: erasure.people,
      isAsked: erasure.isAsked,
      isTheirs: (key: string) => theirs.has(this.keys.addressHash(key).toString('hex')),
    };
    let { cursors } = erasure;
    for (const [name, { behind }] of this.places.all) {
      if (!behind) continue;
      for (let after = cursors[name] ?? 0; ;) {
        const reached = await behind(gone, after, signal);
        if (reached === undefined) break;
        // It has to wait, and is asked again by and by.
        if (reached === after || signal.aborted) return;
        after = reached;
        cursors = { ...cursors, [name]: after };
        await store.stepErasure(db, id, { cursors });
      }
    }
    await store.stepErasure(db, id, { finishedAt: this.clock.now() });
  }

  /** Whoever can't be brought back any more is erased, too; but nobody asked for that, and a list may bring them back. */
  private async purge(): Promise<boolean> {
    const now = this.clock.now();
    return this.database.transaction(async (tx) => {
      const due = await store.dueForPurge(tx, new Date(now.getTime() - BIN_MS), PURGED_AT_ONCE);
      const people = (await store.lockAny(tx, due)).map(({ id }) => id);
      if (people.length === 0) return false;
      const whose = { people, addresses: [], hashes: [], isTheirs: () => false, names: [], now };
      for (const [, { forget }] of this.places.all) await forget(tx, whose);
      await this.writeDown(tx, whose, undefined, []);
      return people.length === PURGED_AT_ONCE;
    });
  }

  /** What became of somebody who is not there any more; known to who sees everybody alone. */
  async erasure(id: ContactId, viewer: Viewer): Promise<ErasureReply> {
    const found = seesEverybody(viewer.role)
      ? await store.erasureOf(this.database.db, id)
      : undefined;
    if (!found) throw notFound('person');
    const { erasure, by } = found;
    return {
      at: erasure.at.toISOString(),
      by,
      isAsked: erasure.isAsked,
      isDone: erasure.finishedAt !== null,
      backups: erasure.backups,
    };
  }

  /** Backups that were made since somebody came in. */
  private async backupsSince(rows: readonly ContactRow[]): Promise<string[]> {
    const since = Math.min(...rows.map(({ createdAt }) => createdAt.getTime()));
    const text = await readFile(join(this.config.dataDir, BACKUPS), 'utf8').catch(() => '');
    return text.split('\n').flatMap((line) => {
      const backup = readBackup(line);
      return backup && backup.at >= since ? [backup.file] : [];
    });
  }
}

/** A line of the list of backups; undefined where it is torn. */
function readBackup(line: string): { readonly at: number; readonly file: string } | undefined {
  try {
    const { at, file } = JSON.parse(line) as Record<string, unknown>;
    return typeof at === 'string' && typeof file === 'string'
      ? { at: Date.parse(at), file }
      : undefined;
  } catch {
    return undefined;
  }
}

const hashesOf = ({ addressHash, moreHashes }: ContactRow): Buffer[] => [
  ...(addressHash ? [addressHash] : []),
  ...moreHashes,
];

const calledIn = ({ givenName, familyName, address }: ContactRow): string =>
  displayName({ given: givenName, family: familyName }, address);

const nameOf = ({ givenName, familyName }: ContactRow): string[] => {
  const name = displayName({ given: givenName, family: familyName }, null);
  return givenName !== '' && familyName !== '' ? [name] : [];
};
