// Whoever knows of something that happened with a person says how it is found; the timeline shows all of it.
import type { ContactId } from '@palabra/core/contacts';
import { Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import type { Db } from '../../platform/database.js';
import {
  cameIn,
  changesOf,
  timeline,
  type TimelineCursor,
  type TimelineRow,
  type TimelineSource,
} from './timeline.store.js';

/** What a timeline is made of. */
const parts = ['changes', 'came in', 'letters', 'responses', 'held back'] as const;
export type TimelinePart = (typeof parts)[number];

@Injectable()
export class Timeline implements OnApplicationBootstrap {
  private readonly sources = new Map<TimelinePart, TimelineSource>([
    ['changes', changesOf],
    ['came in', cameIn],
  ]);

  register(part: TimelinePart, source: TimelineSource): void {
    this.sources.set(part, source);
  }

  onApplicationBootstrap(): void {
    const missing = parts.filter((part) => !this.sources.has(part));
    if (missing.length > 0)
      throw new Error(`nobody says where these parts of a timeline are: ${missing.join(', ')}`);
  }

  of(
    db: Db,
    contactId: ContactId,
    before: TimelineCursor | undefined,
    limit: number,
  ): Promise<TimelineRow[]> {
    return timeline(db, [...this.sources.values()], contactId, before, limit);
  }
}
