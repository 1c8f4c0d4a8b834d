// Whoever knows of something that happened with a person says how it is found; the timeline shows all of it.
import type { TimelinePart } from '@palabra/contract/contacts';
import type { ContactId } from '@palabra/core/contacts';
import type { Viewer } from '@palabra/core/office';
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

/** What a timeline is made of, and which part of it each is. */
const sources = {
  changes: 'changes',
  'came in': 'changes',
  letters: 'letters',
  'held back': 'letters',
  notes: 'notes',
  tasks: 'notes',
} as const satisfies Readonly<Record<string, TimelinePart>>;
export type TimelineSourceName = keyof typeof sources;
const names = Object.keys(sources) as readonly TimelineSourceName[];

@Injectable()
export class Timeline implements OnApplicationBootstrap {
  private readonly known = new Map<TimelineSourceName, TimelineSource>([
    ['changes', changesOf],
    ['came in', cameIn],
  ]);

  register(name: TimelineSourceName, source: TimelineSource): void {
    this.known.set(name, source);
  }

  onApplicationBootstrap(): void {
    const missing = names.filter((name) => !this.known.has(name));
    if (missing.length > 0)
      throw new Error(`nobody says where these parts of a timeline are: ${missing.join(', ')}`);
  }

  of(
    db: Db,
    contactId: ContactId,
    part: TimelinePart | undefined,
    before: TimelineCursor | undefined,
    limit: number,
    viewer: Viewer,
  ): Promise<TimelineRow[]> {
    const wanted = names.filter((name) => part === undefined || sources[name] === part);
    return timeline(
      db,
      wanted.flatMap((name) => this.known.get(name) ?? []),
      contactId,
      before,
      limit,
      viewer,
    );
  }
}
