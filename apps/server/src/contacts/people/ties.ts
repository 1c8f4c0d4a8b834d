// What ties a person to other capabilities: they say so here, and are asked without being known.
import type { ContactId } from '@palabra/core/contacts';
import { Injectable } from '@nestjs/common';
import type { SQL } from 'drizzle-orm';
import type { Db } from '../../platform/database.js';

export interface Tie {
  /** Whom it holds of, as a condition on `contacts c`: they stay when the import that made them is taken back. */
  readonly holds?: SQL;
  /** These people have another address now; in the transaction that gives it to them. */
  readonly moved?: (tx: Db, ids: readonly ContactId[]) => Promise<void>;
}

@Injectable()
export class Ties {
  private readonly all: Tie[] = [];

  register(tie: Tie): void {
    this.all.push(tie);
  }

  get holding(): readonly SQL[] {
    return this.all.flatMap(({ holds }) => (holds ? [holds] : []));
  }

  async moved(tx: Db, ids: readonly ContactId[]): Promise<void> {
    if (ids.length > 0) for (const { moved } of this.all) await moved?.(tx, ids);
  }
}
