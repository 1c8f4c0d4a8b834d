import {
  dayOrders,
  permissionKinds,
  WORDING_LIMIT,
  type PermissionKind,
} from '@palabra/core/contacts';
import {
  encodings,
  HEADER_ROWS,
  separators,
  type Encoding,
  type ImportState,
  type Separator,
  type Target,
} from '@palabra/core/intake';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { ParsedInto, type Moment } from '../wire/index.js';

const mapping = (value: unknown) => {
  const targetOf = (one: unknown): Target[] => {
    const { to, field, days } = (one ?? {}) as Record<string, unknown>;
    const order = dayOrders.find((known) => known === days);
    if (days !== undefined && order === undefined) return [];
    if (to === 'nothing' || to === 'tags') return [{ to }];
    return to === 'field' && typeof field === 'string' && /^[a-z][a-z0-9_]{0,40}$/.test(field)
      ? [{ to, field, ...(order ? { days: order } : {}) }]
      : [];
  };
  const targets = Array.isArray(value) && value.length <= 500 ? value.flatMap(targetOf) : [];
  const isWhole = Array.isArray(value) && targets.length === value.length;
  return isWhole
    ? { ok: true as const, value: targets }
    : { ok: false as const, error: 'Say for each column which field it fills, tags, or nothing.' };
};

export class ReadingRequest {
  @IsIn(encodings) encoding!: Encoding;
  @IsIn(separators) separator!: Separator;
  /** Place of the row that names the columns, from 0; null for none; left out, it is found by content. */
  @IsOptional() @IsInt() @Min(0) @Max(HEADER_ROWS - 1) headerAt?: number | null;
}

export class StartImportRequest {
  @ParsedInto(mapping) mapping!: Target[];
  @IsIn(permissionKinds, { message: 'Say how these people gave permission.' })
  permission!: PermissionKind;
  @IsString() @MaxLength(200) source!: string;
  /** What they agreed to, word for word. */
  @IsOptional() @IsString() @MaxLength(WORDING_LIMIT) wording?: string;
  @IsArray() @ArrayMaxSize(50) @IsInt({ each: true }) tagIds!: number[];
}

export interface ImportReply {
  readonly id: number;
  readonly state: ImportState;
  readonly fileName: string;
  readonly encoding: Encoding;
  /** The likeliest, the best first, with the first words beyond ASCII as they would be read. */
  readonly guesses: readonly { readonly encoding: Encoding; readonly words: readonly string[] }[];
  readonly separator: Separator;
  readonly headerAt: number | null;
  /** The first rows as they stand in the file, cut. */
  readonly beginning: readonly (readonly string[])[];
  readonly headers: readonly string[];
  readonly sample: readonly (readonly string[])[];
  readonly rows: number;
  readonly mapping: readonly Target[];
  readonly permission: PermissionKind;
  readonly permissionSource: string;
  readonly permissionWording: string;
  readonly tagIds: readonly number[];
  readonly cursor: number;
  readonly newCount: number;
  readonly changedCount: number;
  readonly unchangedCount: number;
  readonly refusedCount: number;
  /** Rows of people whom somebody else looks after; 0 for a member, whose reply counts them among the new. */
  readonly elsewhereCount: number;
  /** Further rows of people who are counted by their first. */
  readonly againCount: number;
  /** Rows that came in without a cell that can't be read. */
  readonly doubtedCount: number;
  /** When a file of this shape was brought in last: its columns are read the same way. */
  readonly knownSince: Moment | null;
  readonly createdAt: Moment;
  readonly startedAt: Moment | null;
  readonly finishedAt: Moment | null;
  readonly by: string;
  /** Set once it is being, or has been, taken back. */
  readonly takenBack: {
    readonly changeSet: number;
    readonly count: number;
    readonly leftAlone: number;
    readonly isDone: boolean;
  } | null;
}

/** What taking an import back would do now. */
export interface TakingBackReply {
  /** People whom it made and who would go. */
  readonly go: number;
  /** People whom it made and who would stay, because somebody has had to do with them since. */
  readonly stay: number;
  /** People whom it changed, who would be changed back as far as nobody changed them since. */
  readonly changed: number;
}

export interface RefusedRow {
  /** Of the file, from 1; null for one that was brought long ago. */
  readonly line: number | null;
  readonly row: number;
  readonly reason: string;
  /** Whether the person came in all the same, without a cell. */
  readonly isIn: boolean;
  readonly cells: readonly string[];
}

export interface RefusedPage {
  readonly rows: readonly RefusedRow[];
  readonly total: number;
}
