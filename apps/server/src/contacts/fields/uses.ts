// Where a field is used: whoever keeps rules, letters or lists says so here, and is asked without being known.
import type { FieldUseKind } from '@palabra/contract/contacts';
import type { Use } from '@palabra/contract/wire';
import { Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import { fieldUseKinds } from '@palabra/contract/contacts';
import type { Viewer } from '@palabra/core/office';

type UsesOf = (key: string, viewer: Viewer) => Promise<readonly Use[]>;

@Injectable()
export class FieldUses implements OnApplicationBootstrap {
  private readonly known = new Map<FieldUseKind, UsesOf>();

  register(kind: FieldUseKind, usesOf: UsesOf): void {
    this.known.set(kind, usesOf);
  }

  onApplicationBootstrap(): void {
    const missing = fieldUseKinds.filter((kind) => !this.known.has(kind));
    if (missing.length > 0)
      throw new Error(`nobody says where fields are used: ${missing.join(', ')}`);
  }

  async of(key: string, viewer: Viewer): Promise<(Use & { readonly kind: FieldUseKind })[]> {
    const found: (Use & { readonly kind: FieldUseKind })[] = [];
    for (const [kind, usesOf] of this.known)
      for (const use of await usesOf(key, viewer)) found.push({ kind, ...use });
    return found;
  }
}
