// What names a tag: whoever keeps rules or sheets says so here, writes another tag into them, and writes back.
import { Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import { tagUseKinds, type TagUse, type TagUseKind } from '@palabra/contract/contacts';
import type { TagId } from '@palabra/core/contacts';
import type { Viewer } from '@palabra/core/office';
import type { Db } from '../../platform/database.js';
import type { Rewritten } from '../../platform/trees.store.js';

export interface TagUser {
  /** By which of theirs each tag is named. */
  readonly all: (db: Db, viewer: Viewer) => Promise<readonly NamedTag[]>;
  /** Takes a tag out, or writes another in its place. */
  readonly without: (tx: Db, tag: TagId, into: TagId | undefined) => Promise<readonly Rewritten[]>;
  /** Writes back what was there; whatever was changed since stays as it is. */
  readonly back: (tx: Db, rewritten: Rewritten) => Promise<void>;
}

export interface NamedTag extends Omit<TagUse, 'kind'> {
  readonly tag: number;
}

@Injectable()
export class TagUses implements OnApplicationBootstrap {
  private readonly known = new Map<TagUseKind, TagUser>();

  register(kind: TagUseKind, user: TagUser): void {
    this.known.set(kind, user);
  }

  onApplicationBootstrap(): void {
    const missing = tagUseKinds.filter((kind) => !this.known.has(kind));
    if (missing.length > 0) throw new Error(`nobody says what names tags: ${missing.join(', ')}`);
  }

  async all(db: Db, viewer: Viewer): Promise<ReadonlyMap<number, readonly TagUse[]>> {
    const found = new Map<number, TagUse[]>();
    for (const [kind, user] of this.known)
      for (const { tag, ...use } of await user.all(db, viewer))
        found.set(tag, [...(found.get(tag) ?? []), { kind, ...use }]);
    return found;
  }

  async without(
    tx: Db,
    tag: TagId,
    into: TagId | undefined,
  ): Promise<(Rewritten & { readonly kind: TagUseKind })[]> {
    const written: (Rewritten & { readonly kind: TagUseKind })[] = [];
    for (const [kind, user] of this.known)
      for (const one of await user.without(tx, tag, into)) written.push({ kind, ...one });
    return written;
  }

  async back(
    tx: Db,
    { kind, ...rewritten }: Rewritten & { readonly kind: TagUseKind },
  ): Promise<void> {
    await this.known.get(kind)?.back(tx, rewritten);
  }
}
