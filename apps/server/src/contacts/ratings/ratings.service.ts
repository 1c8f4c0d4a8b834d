// People's ratings: counted soon after something happened, everybody's every night and whenever the scale changes.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type {
  MovedReply,
  PersonRatingReply,
  RatingPreviewReply,
  RatingPreviewRequest,
  RatingScaleReply,
  RatingScaleRequest,
} from '@palabra/contract/contacts';
import {
  bandOf,
  bands,
  explainRating,
  extremes,
  FADING_WITHIN,
  RISEN_BY,
  ratingCourse,
  standardScale,
  type Band,
  type ContactId,
  type RatedLetter,
  type RatingScale,
} from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { dayIn, momentOf, type Viewer } from '@palabra/core/office';
import { findOffice } from '../../office/index.js';
import { Database, type Db } from '../../platform/database.js';
import { Jobs } from '../../platform/jobs.js';
import { log } from '../../platform/log.js';
import { conflict } from '../../platform/refusals.js';
import { Foreground, Stride } from '../../platform/stride.js';
import type { SQL } from 'drizzle-orm';
import type { Config } from '../../platform/config.js';
import { CLOCK, CONFIG } from '../../platform/time.js';
import { isNobodyWriting, readWrites } from '../../platform/writes.store.js';
import { PeopleService } from '../people/people.service.js';
import { PeopleSets } from '../people/people-sets.js';
import { allOf, lastKey, living } from '../people/people.store.js';
import { scope } from '../people/scope.store.js';
import { doNotMailEntry } from '../standing/do-not-mail.store.js';
import { RatedLetters } from './letters.js';
import * as store from './ratings.store.js';

const EVERYBODY = 0;
const DUE = 1;
const CHECK = 2;
const DAY_MS = 86_400_000;
/** Who is due is asked this often, where anybody was written: it is a look at everybody. */
const LOOK_MS = 10_000;
/** The hour at which everybody is counted, where the office is. */
const AT_NIGHT = '02:00';
const STRETCH = { first: 500, least: 100, most: 4000 };
/** So many people’s letters are read at once. */
const SLICE = 400;
/** How many people a preview counts before it answers. */
const PREVIEW = 4000;
/** Of a person's page: a point a week over eighteen months. */
const WEEK = 7;
const WEEKS = 78;
const MOVED_SHOWN = 4;

type BandCounts = Record<Band, number>;
const noCounts = (): BandCounts =>
  Object.fromEntries(bands.map((band) => [band, 0])) as unknown as BandCounts;

@Injectable()
export class RatingsService implements OnModuleInit {
  private lastLook = -Infinity;
  /** How often courses were written when nobody was due. */
  private nobodyDue: string | undefined;
  private stride: Stride;

  constructor(
    private readonly database: Database,
    private readonly jobs: Jobs,
    private readonly foreground: Foreground,
    private readonly letters: RatedLetters,
    private readonly people: PeopleService,
    private readonly sets: PeopleSets,
    @Inject(CLOCK) private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: Config,
  ) {
    this.stride = new Stride(foreground, STRETCH.first, STRETCH.least, STRETCH.most);
  }

  onModuleInit(): void {
    this.jobs.register('rating', {
      run: (id, signal) =>
        id === EVERYBODY
          ? this.countAll(signal)
          : id === CHECK
            ? this.checkAll(signal)
            : this.countDue(signal),
      unfinished: () => this.unfinished(),
      what: (id) =>
        Promise.resolve(
          id === EVERYBODY
            ? 'counting everybody’s rating'
            : id === CHECK
              ? 'checking what is known of everybody’s letters'
              : 'counting ratings',
        ),
      leave: () => Promise.resolve(),
    });
    // `rated.90.rose`, `rated.90.fading`: within so many days, as they were counted last.
    this.sets.register('rated', 'of whoever asks', ({ id: days, part }) =>
      Promise.resolve(
        days !== FADING_WITHIN
          ? undefined
          : part === 'fading'
            ? { title: 'whose rating is fading', among: store.isFading }
            : part === 'rose'
              ? {
                  title: `whose rating rose by ${RISEN_BY} or more within ${days} days`,
                  among: store.haveRisen,
                }
              : undefined,
      ),
    );
  }

  private async unfinished(): Promise<number[]> {
    const { db } = this.database;
    const found: number[] = [];
    const row = await store.scaleRow(db);
    if (row.cursor !== null || (await this.isNightOver(db, row.countedAt))) found.push(EVERYBODY);
    if (row.checkCursor !== null || (await this.isNightOver(db, row.checkedAt))) found.push(CHECK);
    if (performance.now() - this.lastLook < LOOK_MS / this.config.pace) return found;
    this.lastLook = performance.now();
    const { contact_courses: written } = await readWrites(db);
    if (written === this.nobodyDue) return found;
    const isSure = await isNobodyWriting(db);
    if (await store.isAnybodyDue(db)) found.push(DUE);
    else if (isSure) this.nobodyDue = written;
    return found;
  }

  /** Whether what was done last at some moment is to be done again, because the night is over. */
  private async isNightOver(db: Db, last: Date | null): Promise<boolean> {
    const now = this.clock.now();
    if (last === null) return true;
    if (now.getTime() - last.getTime() > DAY_MS) return true;
    const { timeZone = 'UTC' } = (await findOffice(db)) ?? {};
    const night = momentOf(timeZone, `${dayIn(timeZone, now)}T${AT_NIGHT}`)?.at;
    return night !== undefined && night <= now && last < night;
  }

  /** Counts everybody, from where the last count was left. */
  private async countAll(signal: AbortSignal): Promise<void> {
    let isDone = false;
    while (!isDone && !signal.aborted)
      isDone = await this.stride.step((size) =>
        this.database.transaction(async (tx) => {
          const row = await store.lockScale(tx);
          const { cursor } = row;
          // It was counted by somebody else meanwhile.
          if (cursor === null && !(await this.isNightOver(tx, row.countedAt))) return true;
          const own = row.scale ?? standardScale;
          const after = await this.countSome(tx, own, 'everybody', cursor ?? 0, size);
          await store.noteCount(
            tx,
            after === undefined ? { cursor: null, countedAt: this.clock.now() } : { cursor: after },
          );
          return after === undefined;
        }),
      );
  }

  /**
   * Checks what is kept of everybody against what happened, from where the last check was left, and puts right what is
   * wrong. Whoever it was is due, so that their rating follows.
   */
  private async checkAll(signal: AbortSignal): Promise<void> {
    let isDone = false;
    while (!isDone && !signal.aborted)
      isDone = await this.stride.step((size) =>
        this.database.transaction(async (tx) => {
          const row = await store.lockScale(tx);
          if (row.checkCursor === null && !(await this.isNightOver(tx, row.checkedAt))) return true;
          const after = row.checkCursor ?? 0;
          const wrong = await this.letters.putRight(tx, { after, upTo: after + size });
          const wrongCount = (row.checkCursor === null ? 0 : row.wrongCount) + wrong.length;
          const isEnd = after + size >= (await lastKey(tx));
          await store.noteCount(tx, {
            wrongCount,
            ...(isEnd
              ? { checkCursor: null, checkedAt: this.clock.now() }
              : { checkCursor: after + size }),
          });
          if (isEnd && wrongCount > 0)
            log.warn(
              { people: wrongCount },
              'figures of people were not as it happened; put right',
            );
          return isEnd;
        }),
      );
  }

  /** Counts those with whom something happened since they were counted. */
  private async countDue(signal: AbortSignal): Promise<void> {
    let after: number | undefined = 0;
    while (after !== undefined && !signal.aborted) {
      const from: number = after;
      after = await this.stride.step((size) =>
        this.database.transaction(async (tx) => {
          const { scale } = await store.scaleRow(tx);
          return this.countSome(tx, scale ?? standardScale, 'due', from, size);
        }),
      );
    }
  }

  /**
   * Counts the next people after a key and writes what is another; undefined after the last of them. Who is due is locked
   * meanwhile. When everybody is counted nobody is, and with whom something happens just then stays due.
   */
  private async countSome(
    tx: Db,
    scale: RatingScale,
    which: 'everybody' | 'due',
    after: number,
    size: number,
  ): Promise<number | undefined> {
    const now = this.clock.now();
    const isLocked = which === 'due';
    const among = isLocked ? store.isDue : store.anybody;
    const people = await store.peopleToRate(tx, among, after, size, isLocked);
    const rated = await this.rate(tx, people, scale, now);
    const changed = rated.filter((one, at) => {
      const was = people[at];
      return (
        isLocked ||
        was?.rating !== one.rating ||
        was.band !== one.band ||
        was.high !== one.high ||
        was.low !== one.low
      );
    });
    await store.writeRatings(tx, changed, now, isLocked ? this.letters.recent : undefined);
    return people.length < size ? undefined : people.at(-1)?.id;
  }

  private async rate(
    db: Db,
    people: readonly store.RatedPerson[],
    scale: RatingScale,
    now: Date,
  ): Promise<store.Rated[]> {
    const day = now.getTime() / DAY_MS;
    // While some are counted here, the database reads the letters of the next.
    const slices = inSlices(people, SLICE);
    const read = (at: number): Promise<ReadonlyMap<ContactId, readonly RatedLetter[]>> =>
      this.letters.of(db, slices[at]?.map(({ id }) => id) ?? []);
    const counted: store.Rated[] = [];
    let next = read(0);
    for (const [at, some] of slices.entries()) {
      const letters = await next;
      next = read(at + 1);
      for (const { id, ended } of some)
        counted.push(rated(id, ended ? null : (letters.get(id) ?? []), scale, day));
    }
    return counted;
  }

  async scale(): Promise<RatingScaleReply> {
    const { db } = this.database;
    const row = await store.scaleRow(db);
    const known = await store.bandCounts(db, living);
    return {
      scale: row.scale ?? standardScale,
      standard: standardScale,
      version: row.version,
      counting:
        row.cursor === null ? null : { done: row.cursor, of: Math.max(1, await lastKey(db)) },
      bands: bands.map((band) => ({
        band,
        count: known.find((one) => one.band === band)?.count ?? 0,
      })),
      ended: known.find(({ band }) => band === null)?.count ?? 0,
      check: {
        at: row.checkedAt?.toISOString() ?? null,
        isUnderWay: row.checkCursor !== null,
        wrong: row.wrongCount,
      },
    };
  }

  async changeScale({ version, scale }: RatingScaleRequest): Promise<RatingScaleReply> {
    const changed = await store.changeScale(this.database.db, version, scale);
    if (!changed) throw conflict('scale', await this.scale());
    void this.jobs.nudge('rating', EVERYBODY);
    return this.scale();
  }

  /** Counts the next few people by a scale that is only thought of; asked again until `after` is null. */
  async preview({ scale, after = 0 }: RatingPreviewRequest): Promise<RatingPreviewReply> {
    const { db } = this.database;
    const people = await store.peopleToRate(db, store.anybody, after, PREVIEW, false);
    const then = noCounts();
    for (const { band } of await this.rate(db, people, scale, this.clock.now()))
      if (band !== null) then[band]++;
    const now = noCounts();
    for (const { band } of people) if (band !== null) now[band]++;
    return {
      bands: bands.map((band) => ({ band, now: now[band], then: then[band] })),
      after: people.length < PREVIEW ? null : (people.at(-1)?.id ?? null),
    };
  }

  /** A person's rating as it was counted last, and what it is made of. */
  async ofPerson(id: ContactId, viewer: Viewer): Promise<PersonRatingReply> {
    const { db } = this.database;
    const row = await this.people.person(id, viewer);
    const { scale } = await store.scaleRow(db);
    const entry = await doNotMailEntry(db, row.addressHash);
    const letters = (await this.letters.of(db, [id])).get(id) ?? [];
    // What is shown adds up to the rating that lists show, unless something happened since.
    const course = await store.courseOf(db, id);
    const at = course && !row.ratingDue ? course.counted_at : this.clock.now();
    const day = at.getTime() / DAY_MS;
    const own = scale ?? standardScale;
    const past = ratingCourse(letters, own, day, WEEK * WEEKS);
    const { high } = extremes(past.slice(0, FADING_WITHIN + 1));
    const explained = explainRating(letters, own, day);
    const ended =
      entry?.reason === 'left' || entry?.reason === 'complained'
        ? { how: entry.reason, at: entry.at.toISOString() }
        : null;
    return {
      ...explained,
      band: ended ? null : bandOf(explained.rating, high, own),
      ended,
      wasHighest: high,
      course: past.filter((_, ago) => ago % WEEK === 0).reverse(),
    };
  }

  async moved(viewer: Viewer): Promise<MovedReply> {
    const { db } = this.database;
    const among = allOf(living, scope(viewer));
    const most = async (people: SQL, way: 'rose' | 'fell'): Promise<MovedReply['rose']> => {
      const rows = await store.movedMost(db, allOf(among, people), way, MOVED_SHOWN);
      return {
        count: rows[0]?.all ?? 0,
        people: rows.map((one) => ({
          id: one.id,
          givenName: one.given_name,
          familyName: one.family_name,
          address: one.address,
          was: one.was,
          is: one.rating,
        })),
      };
    };
    return {
      rose: await most(store.haveRisen, 'rose'),
      fading: await most(store.isFading, 'fell'),
    };
  }
}

const inSlices = <T>(list: readonly T[], size: number): T[][] =>
  Array.from({ length: Math.ceil(list.length / size) }, (_, at) =>
    list.slice(at * size, (at + 1) * size),
  );

/** `letters` is null of whoever left or complained: there is no rating any more, and no band. */
function rated(
  id: ContactId,
  letters: readonly RatedLetter[] | null,
  scale: RatingScale,
  now: number,
): store.Rated {
  if (letters === null) return { id, rating: null, band: null, high: null, low: null, points: [] };
  const [rating = null, ...points] = ratingCourse(letters, scale, now, FADING_WITHIN);
  const { high, low } = extremes([rating, ...points]);
  return { id, rating, band: bandOf(rating, high, scale), high, low, points };
}
