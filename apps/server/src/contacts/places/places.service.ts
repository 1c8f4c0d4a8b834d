// The gazetteer: loaded from a file, looked into, and what it says of where people live.
import { Injectable } from '@nestjs/common';
import type { GazetteerLoaded, GazetteerPlace, GazetteerReply } from '@palabra/contract/contacts';
import { gazetteerLine, type GazetteerEntry } from '@palabra/core/contacts';
import { countryCodes } from '@palabra/core/intake';
import type { Viewer } from '@palabra/core/office';
import { Database } from '../../platform/database.js';
import { Foreground, Stride } from '../../platform/stride.js';
import { inTurn } from '../../platform/upload.js';
import { refuse } from '../contacts.refusals.js';
import { allOf, count, lastKey, living, withoutPosition } from '../people/people.store.js';
import { scope } from '../people/scope.store.js';
import * as store from './places.store.js';

const SHOWN = 12;
const STEP = 1000;

@Injectable()
export class PlacesService {
  constructor(
    private readonly database: Database,
    private readonly foreground: Foreground,
  ) {}

  find(text: string): Promise<GazetteerPlace[]> {
    return store.placesBeginning(this.database.db, text, SHOWN);
  }

  async about(viewer: Viewer): Promise<GazetteerReply> {
    const { db } = this.database;
    return {
      ...(await store.countPlaces(db)),
      withoutPosition: await count(db, allOf(living, scope(viewer), withoutPosition)),
    };
  }

  /** Takes the place of what was there, as soon as all of it is read; a file without a single place changes nothing. */
  async load(
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
      const stride = new Stride(this.foreground, STEP, 100, 20_000);
      while (await stride.step((size) => store.dropSomeUpTo(db, before, size)));
      await this.place(signal);
    });
    return { ...(await this.about(viewer)), read, refused };
  }

  /** Looks up anew where everybody lives. */
  private async place(signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    const last = await lastKey(db);
    const stride = new Stride(this.foreground, STEP, 100, 20_000);
    for (let after = 0; after < last && !signal.aborted;)
      after = await stride.step(async (size) => {
        await store.placePeople(db, after, after + size);
        return after + size;
      });
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
