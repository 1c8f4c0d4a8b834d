// Where something personal is kept: whoever keeps it says what is there, and takes it out. Erasing somebody, emptying the
// bin, and the file of what is held about somebody all go through this one list.
import { Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import { personalPlaceNames, type ContactId, type PersonalPlace } from '@palabra/core/contacts';
import type { Db } from '../../platform/database.js';

/** Somebody, by all that is theirs: one person may stand in several pools. */
export interface Whose {
  readonly people: readonly ContactId[];
  /** As they were typed, former ones too. Nobody's where the bin is emptied: what others wrote is not gone through then. */
  readonly addresses: readonly string[];
  readonly hashes: readonly Buffer[];
  /** Whether the key of an address is one of theirs. */
  readonly isTheirs: (key: string) => boolean;
  /** How they are called, in full. */
  readonly names: readonly string[];
  readonly now: Date;
}

/** Somebody who was erased: of whom nothing is known any more but keys and hashes. */
export interface Gone {
  readonly people: readonly ContactId[];
  /** At their own request: then what others wrote is gone through, too. */
  readonly isAsked: boolean;
  /** Whether the key of an address was one of theirs. */
  readonly isTheirs: (key: string) => boolean;
}

/** One line of what is held. */
export interface Held {
  readonly at?: Date | null;
  readonly what: string;
  readonly text?: string | null;
}

export interface Place {
  readonly held: (db: Db, whose: Whose) => Promise<Held[]>;
  /** Takes it out, in the transaction that erases them; what only counts stays. */
  readonly forget: (tx: Db, whose: Whose) => Promise<void>;
  /** Addresses that were theirs once. */
  readonly addresses?: (db: Db, people: readonly ContactId[]) => Promise<readonly string[]>;
  /** Why they can't be erased just now, asked once `forget` has run; refuses. */
  readonly refuse?: (tx: Db, whose: Whose) => Promise<void>;
  /**
   * Goes through what takes too long for one transaction, a piece behind `after`; says how far it came, the same where it
   * has to wait, and undefined at the end. Done twice it changes nothing.
   */
  readonly behind?: (gone: Gone, after: number, signal: AbortSignal) => Promise<number | undefined>;
}

@Injectable()
export class PersonalPlaces implements OnApplicationBootstrap {
  private readonly places = new Map<PersonalPlace, Place>();

  register(name: PersonalPlace, place: Place): void {
    this.places.set(name, place);
  }

  onApplicationBootstrap(): void {
    const missing = personalPlaceNames.filter((name) => !this.places.has(name));
    if (missing.length > 0)
      throw new Error(`nobody says what is kept of people there: ${missing.join(', ')}`);
  }

  /** In the order in which they are told. */
  get all(): readonly (readonly [PersonalPlace, Place])[] {
    return personalPlaceNames.flatMap((name) => {
      const place = this.places.get(name);
      return place ? [[name, place] as const] : [];
    });
  }
}
