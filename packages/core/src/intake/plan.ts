// All that is said of a file before it comes in: what its columns fill, whose these people are, how they agreed.
import type { ContactId, PermissionKind, PoolId, TagId } from '../contacts/index.js';
import type { UserId } from '../office/index.js';
import type { Matching, Target } from './columns.js';
import type { RowOutcome } from './outcomes.js';

export interface Plan {
  readonly mapping: readonly Target[];
  readonly matching: Matching;
  readonly poolId: PoolId;
  /** Who looks after somebody new whose row names nobody. */
  readonly ownerId: UserId;
  readonly permission: PermissionKind;
  readonly source: string;
  readonly wording: string;
  /** What everybody gets. */
  readonly tagIds: readonly TagId[];
  /** What somebody new gets where their row says nothing, as it is typed, by field. */
  readonly fixed: Readonly<Record<string, string>>;
  /** What a name in a column of tags stands for, where somebody said it; null for none. */
  readonly tagsMeant: readonly { readonly name: string; readonly tag: TagId | null }[];
  /** Who is meant by a name in a column of owners. */
  readonly owners: readonly { readonly name: string; readonly userId: UserId }[];
}

/** By what rows are shown before they come in. `again`: further rows of somebody. `look`: with something wrong, or mended. */
export const lookParts = [
  'new',
  'changed',
  'unchanged',
  'again',
  'elsewhere',
  'look',
  'out',
] as const;
export type LookPart = (typeof lookParts)[number];

/** What bringing a file in would do. Rows, by what they would do; people count by their first row. */
export interface LookCounts {
  readonly outcomes: Readonly<Record<RowOutcome, number>>;
  /** Rows with something wrong or worth a look, refused ones among them; and rows that were mended. */
  readonly look: number;
  readonly mended: number;
  /** People whose address stays on do not mail. */
  readonly doNotMail: number;
  /** People in whom a field changes, or is filled for the first time. */
  readonly fields: readonly {
    readonly field: string;
    readonly changed: number;
    readonly filled: number;
  }[];
  /** Tags that rows name and that are not there, the most frequent first, with one that may be the same. */
  readonly newTags: readonly {
    readonly name: string;
    readonly rows: number;
    readonly alike: TagId | null;
  }[];
  /** Names in a column of owners that are nobody's. */
  readonly unknownOwners: readonly { readonly name: string; readonly rows: number }[];
}

/** What somebody did to one row by hand. */
export interface Mend {
  /** Other texts in its cells, by column. */
  readonly cells: Readonly<Record<number, string>>;
  readonly isOut: boolean;
  /** Whose row it is, where nobody can tell by address or number. */
  readonly person: ContactId | null;
  /** Somebody looked, and it may come in as it stands. */
  readonly isSeen: boolean;
}

export const mended = (cells: readonly string[], { cells: put }: Pick<Mend, 'cells'>): string[] => {
  const next = [...cells];
  for (const [at, text] of Object.entries(put)) {
    while (next.length < Number(at)) next.push('');
    next[Number(at)] = text;
  }
  return next;
};
