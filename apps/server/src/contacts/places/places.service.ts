// The gazetteer: loaded from a file, looked into, and what it says of where people live.
import { Injectable, type OnModuleInit } from '@nestjs/common';
import type { GazetteerLoaded, GazetteerPlace, GazetteerReply } from '@palabra/contract/contacts';
import { gazetteerLine, type GazetteerEntry } from '@palabra/core/contacts';
import { countryCodes } from '@palabra/core/intake';
import type { Viewer } from '@palabra/core/office';
import { Database } from '../../platform/database.js';
import { Jobs } from '../../platform/jobs.js';
import { Foreground, Stride } from '../../platform/stride.js';
import { inTurn } from '../../platform/upload.js';
import { refuse } from '../contacts.refusals.js';
import { allOf, count, lastKey, living, withoutPosition } from '../people/people.store.js';
import { scope } from '../people/scope.store.js';
import * as store from './places.store.js';

const SHOWN = 12;
const STEP = 1000;
/** There is one gazetteer. */
const WHOLE = 1;

@Injectable()
export class PlacesService implements OnModuleInit {
  private isReading = false;

  constructor(
    private readonly database: Database,
    private readonly foreground: Foreground,
    private readonly jobs: Jobs,
  ) {}

  onModuleInit(): void {
    const { db } = this.database;
    this.jobs.register('placing', {
      run: (_, signal) => this.place(signal),
      unfinished: async () => ((await store.placing(db)) ? [WHOLE] : []),
      what: () => Promise.resolve('looking up where everybody lives'),
      leave: () => store.endPlacing(db),
    });
  }

  find(text: string): Promise<GazetteerPlace[]> {
    return store.placesBeginning(this.database.db, text, SHOWN);
  }

  async about(viewer: Viewer): Promise<GazetteerReply> {
    const { db } = this.database;
    const now = await store.placing(db);
    return {
      ...(await store.countPlaces(db)),
      placing: now ? { done: now.cursor, of: Math.max(1, await lastKey(db)) } : null,
      withoutPosition: await count(db, allOf(living, scope(viewer), withoutPosition)),
    };
  }

  /**
   * Takes the place of what was there, as soon as all of it is read; a file without a single place changes nothing. Where
   * everybody lives is looked up behind it.
   */
  async load(
    pieces: Iterable<Buffer>,
    viewer: Viewer,
    signal: AbortSignal,
  ): Promise<GazetteerLoaded> {
    // What two read would be taken for one file.
    if (this.isReading) throw refuse('places-being-read');
    this.isReading = true;
    try {
      return await this.read(pieces, viewer, signal);
    } finally {
      this.isReading = false;
    }
  }

  private async read(
    pieces: Iterable<Buffer>,
    viewer: Viewer,
    signal: AbortSignal,
  ): Promise<GazetteerLoaded> {
    const { db } = this.database;
    const before = await store.lastPlace(db);
    let [read, refused] = [0, 0];
    let entries: GazetteerEntry[] = [];
    const flush = async (): Promise<void> => {
      await store.addPlaces(db, entries);
      read += entries.length;
      entries = [];
      await this.foreground.quiet();
    };
    await this.foreground.aside(async () => {
      try {
        for await (const line of linesOf(pieces)) {
          if (signal.aborted) break;
          if (line.trim() === '') continue;
          const entry = gazetteerLine(line);
          if (entry === undefined) refused++;
          else if (entry !== 'pass') entries.push(entry);
          if (entries.length >= STEP) await flush();
        }
        await flush();
      } catch (error) {
        await store.dropPlacesAbove(db, before);
        throw error;
      }
      // What was begun and given up goes again.
      if (signal.aborted) return store.dropPlacesAbove(db, before);
      if (read === 0) throw refuse('no-places');
      await store.writeCountries(db, countryCodes());
      await this.database.transaction(async (tx) => {
        await store.beginPlacing(tx, before);
        await this.jobs.nudge('placing', WHOLE, tx);
      });
    });
    return { ...(await this.about(viewer)), read, refused };
  }

  /** Lets the places of the file before go, and looks up anew where everybody lives, from where that was left. */
  private async place(signal: AbortSignal): Promise<void> {
    const stride = new Stride(this.foreground, STEP, 100, 20_000);
    for (let isDone = false; !isDone && !signal.aborted;)
      isDone = await stride.step((size) =>
        this.database.transaction(async (tx) => {
          const now = await store.lockPlacing(tx);
          if (!now) return true;
          if (await store.dropSomeUpTo(tx, now.older, size)) return false;
          const upTo = now.cursor + size;
          await store.placePeople(tx, now.cursor, upTo);
          if (upTo < (await lastKey(tx))) await store.notePlaced(tx, upTo);
          else await store.endPlacing(tx);
          return false;
        }),
      );
  }
}

/** The lines of a text in UTF-8. */
async function* linesOf(pieces: Iterable<Buffer>): AsyncGenerator<string> {
  const decoder = new TextDecoder();
  let rest = '';
  for await (const piece of inTurn(pieces)) {
    const lines = (rest + decoder.decode(piece, { stream: true })).split('\n');
    rest = lines.pop() ?? '';
    // A line of many pieces would be looked through again and again: none of a place is so long.
    if (rest.length > 100_000) rest = '';
    yield* lines;
  }
  yield rest + decoder.decode();
}
