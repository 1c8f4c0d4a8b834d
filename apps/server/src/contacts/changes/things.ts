// What the office makes and takes away again: a deletion is a line of the activity log, and taken back there, too.
import { Inject, Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import type { ChangeSetId } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import type { Viewer } from '@palabra/core/office';
import { Database, type Db } from '../../platform/database.js';
import { notFound } from '../../platform/refusals.js';
import { CLOCK } from '../../platform/time.js';
import type { ThingKind } from './changes.table.js';
import { deletionOf, markUndone, openChangeSet, type ChangeSet } from './changes.store.js';

const thingKinds: readonly ThingKind[] = ['segment', 'letter', 'campaign', 'field'];

/** Marks a thing as deleted, or as there again; says its name, or undefined where there is no such thing. */
type SetDeleted = (tx: Db, id: number, at: Date | null) => Promise<string | undefined>;

@Injectable()
export class Things implements OnApplicationBootstrap {
  private readonly known = new Map<ThingKind, SetDeleted>();

  constructor(
    private readonly database: Database,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  register(kind: ThingKind, setDeleted: SetDeleted): void {
    this.known.set(kind, setDeleted);
  }

  onApplicationBootstrap(): void {
    const missing = thingKinds.filter((kind) => !this.known.has(kind));
    if (missing.length > 0) throw new Error(`nobody deletes and restores: ${missing.join(', ')}`);
  }

  async remove(kind: ThingKind, id: number, viewer: Viewer): Promise<void> {
    const at = this.clock.now();
    await this.database.transaction(async (tx) => {
      const name = await this.known.get(kind)?.(tx, id, at);
      if (name === undefined) throw notFound(kind);
      await openChangeSet(tx, {
        kind: 'deletion',
        userId: viewer.userId,
        at,
        what: `deleted the ${kind} “${name}”`,
        thingKind: kind,
        thingId: id,
      });
    });
  }

  async restore(kind: ThingKind, id: number): Promise<void> {
    await this.database.transaction(async (tx) => {
      await this.bringBack(tx, kind, id);
      const deletion = await deletionOf(tx, kind, id);
      if (deletion !== undefined) await markUndone(tx, deletion, this.clock.now());
    });
  }

  /** Takes a deletion of the log back, in the caller's transaction. */
  async undo(tx: Db, set: ChangeSet, viewer: Viewer): Promise<ChangeSetId> {
    const { thingKind, thingId } = set;
    if (thingKind === null || thingId === null) throw notFound('change');
    await this.bringBack(tx, thingKind, thingId);
    return openChangeSet(tx, {
      kind: 'deletion',
      userId: viewer.userId,
      at: this.clock.now(),
      what: set.what.replace(/^deleted/, 'brought back'),
      undoable: false,
    });
  }

  private async bringBack(tx: Db, kind: ThingKind, id: number): Promise<void> {
    if ((await this.known.get(kind)?.(tx, id, null)) === undefined) throw notFound(kind);
  }
}
