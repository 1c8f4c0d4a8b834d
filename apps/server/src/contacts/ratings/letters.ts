// Whoever keeps the letters says what people did with those that arrived; ratings are made of it.
import type { ContactId, RatedLetter } from '@palabra/core/contacts';
import { Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import type { Db } from '../../platform/database.js';
import { lettersBy, type LettersQuery } from './ratings.store.js';

const MINUTES = 1440;

/** Counts anew, of people with keys above `after` and up to `upTo`, what is not as it happened; returns whose it was. */
export type PutRight = (
  tx: Db,
  stretch: { readonly after: number; readonly upTo: number },
) => Promise<readonly ContactId[]>;

@Injectable()
export class RatedLetters implements OnApplicationBootstrap {
  private query: LettersQuery | undefined;
  private recentQuery: LettersQuery | undefined;
  private check: PutRight | undefined;

  /** `recent`: the last letters of some people as bits: `contact_id, letters, accepted, opened, clicked, bounced`. */
  register(query: LettersQuery, recent: LettersQuery, putRight: PutRight): void {
    this.query = query;
    this.recentQuery = recent;
    this.check = putRight;
  }

  get putRight(): PutRight {
    if (!this.check) throw new Error('nobody checks what is kept of people');
    return this.check;
  }

  get recent(): LettersQuery {
    if (!this.recentQuery) throw new Error('nobody says which letters people got last');
    return this.recentQuery;
  }

  onApplicationBootstrap(): void {
    if (!this.query) throw new Error('nobody says which letters people are rated by');
  }

  /** The letters of some people, for each who has any. */
  async of(db: Db, ids: readonly ContactId[]): Promise<ReadonlyMap<ContactId, RatedLetter[]>> {
    if (ids.length === 0 || !this.query) return new Map();
    const rows = await lettersBy(db, this.query, ids);
    return new Map(
      rows.map(({ contact_id, letters }) => [contact_id, letters.split(';').map(read)]),
    );
  }
}

const day = (minutes: string | undefined): number | null =>
  minutes === undefined || minutes === '' ? null : Number(minutes) / MINUTES;

function read(text: string): RatedLetter {
  const colon = text.indexOf(':');
  if (colon < 0)
    return { arrived: Number(text) / MINUTES, opened: null, clicked: null, replied: null };
  const [opened, clicked, replied] = text.slice(colon + 1).split(',');
  return {
    arrived: Number(text.slice(0, colon)) / MINUTES,
    opened: day(opened),
    clicked: day(clicked),
    replied: day(replied),
  };
}
