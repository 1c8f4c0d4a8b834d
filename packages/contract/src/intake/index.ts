import {
  dayOrders,
  permissionKinds,
  WORDING_LIMIT,
  type PermissionKind,
} from '@palabra/core/contacts';
import {
  encodings,
  HEADER_ROWS,
  knownWays,
  matchings,
  separators,
  type Encoding,
  type ImportKind,
  type ImportState,
  type LookCounts,
  type Matching,
  type Plan,
  type RowOutcome,
  type RowProblem,
  type Separator,
  type Target,
} from '@palabra/core/intake';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { ParsedInto, type Moment } from '../wire/index.js';

const isField = (text: unknown): text is string =>
  typeof text === 'string' && /^[a-z][a-z0-9_]{0,40}$/.test(text);

function targetOf(one: unknown): Target | undefined {
  const { to, field, days, way } = (one ?? {}) as Record<string, unknown>;
  const order = dayOrders.find((known) => known === days);
  const known = knownWays.find((own) => own === way);
  if ((days !== undefined && !order) || (way !== undefined && !known)) return undefined;
  if (to === 'nothing' || to === 'tags' || to === 'name' || to === 'owner') return { to };
  return to === 'field' && isField(field)
    ? { to, field, ...(order ? { days: order } : {}), ...(known ? { way: known } : {}) }
    : undefined;
}

/** A list whose every entry can be read. */
const listOf =
  <T>(most: number, read: (one: unknown) => T | undefined, words: string) =>
  (value: unknown) => {
    const all = Array.isArray(value) && value.length <= most ? value.map(read) : [];
    const found = all.filter((one) => one !== undefined);
    return Array.isArray(value) && found.length === value.length
      ? { ok: true as const, value: found }
      : { ok: false as const, error: words };
  };

const mapping = listOf(
  500,
  targetOf,
  'Say for each column which field it fills, tags, or nothing.',
);

/** A name of a cell and whose key is meant by it. */
const meantOf = (key: string, mayBeNull: boolean) => (one: unknown) => {
  const { name, ...rest } = (one ?? {}) as Record<string, unknown>;
  const id = rest[key];
  const isMeant = (Number.isInteger(id) && Number(id) > 0) || (mayBeNull && id === null);
  return typeof name === 'string' && name.length <= 200 && isMeant
    ? { name, [key]: id }
    : undefined;
};

const textsOf =
  (isKey: (key: string) => boolean, most: number, signs: number, words: string) =>
  (value: unknown) => {
    const entries = Object.entries((value ?? {}) as Record<string, unknown>);
    const isGood =
      typeof value === 'object' &&
      !Array.isArray(value) &&
      entries.length <= most &&
      entries.every(
        ([key, text]) => isKey(key) && typeof text === 'string' && text.length <= signs,
      );
    return isGood
      ? { ok: true as const, value: Object.fromEntries(entries) as Record<string, string> }
      : { ok: false as const, error: words };
  };

const fixed = textsOf(isField, 50, 1000, 'Say for each field which text everybody new gets.');
const cells = textsOf(
  (key) => /^\d{1,3}$/.test(key),
  200,
  10_000,
  'Say for each column which text the cell has; a cell holds 10,000 signs.',
);

export class ReadingRequest {
  @IsIn(encodings) encoding!: Encoding;
  @IsIn(separators) separator!: Separator;
  /** Place of the row that names the columns, from 0; null for none; left out, it is found by content. */
  @IsOptional() @IsInt() @Min(0) @Max(HEADER_ROWS - 1) headerAt?: number | null;
  /** Another sheet of a workbook, from 0. */
  @IsOptional() @IsInt() @Min(0) @Max(999) sheetAt?: number;
}

/** All that is said of a file before it comes in. */
export class PlanRequest {
  /** What the asker saw. */
  @IsInt() version!: number;
  @ParsedInto(mapping) mapping!: Target[];
  @IsIn(matchings) matching!: Matching;
  @IsInt() poolId!: number;
  @IsInt() ownerId!: number;
  @IsIn(permissionKinds, { message: 'Say how these people gave permission.' })
  permission!: PermissionKind;
  @IsString() @MaxLength(200) source!: string;
  /** What they agreed to, word for word. */
  @IsString() @MaxLength(WORDING_LIMIT) wording!: string;
  @IsArray() @ArrayMaxSize(50) @IsInt({ each: true }) tagIds!: number[];
  @ParsedInto(fixed) fixed!: Record<string, string>;
  @ParsedInto(listOf(500, meantOf('tag', true), 'Say for each name which tag it stands for.'))
  tagsMeant!: { readonly name: string; readonly tag: number | null }[];
  @ParsedInto(listOf(200, meantOf('userId', false), 'Say for each name who is meant.'))
  owners!: { readonly name: string; readonly userId: number }[];
  /** Own fields that were made for its columns. */
  @IsArray() @ArrayMaxSize(200) @Matches(/^own_\d{1,9}$/, { each: true }) fieldsMade!: string[];
}

/** Left out, nothing is changed of it. */
export class MendRequest {
  /** Other texts of cells, by column; each stays until the row is put back. */
  @IsOptional() @ParsedInto(cells) cells?: Record<string, string>;
  @IsOptional() @IsBoolean() isOut?: boolean;
  @IsOptional() @IsInt() person?: number | null;
  @IsOptional() @IsBoolean() isSeen?: boolean;
  /** As it stands in the file. */
  @IsOptional() @IsBoolean() back?: boolean;
}

export class StartImportRequest {
  /** What the asker saw. */
  @IsInt() version!: number;
}

/** What would be brought in, to be read before it is. */
export interface ImportPlan extends Omit<
  Plan,
  'poolId' | 'ownerId' | 'tagIds' | 'tagsMeant' | 'owners'
> {
  readonly poolId: number;
  readonly ownerId: number;
  readonly tagIds: readonly number[];
  readonly tagsMeant: readonly { readonly name: string; readonly tag: number | null }[];
  readonly owners: readonly { readonly name: string; readonly userId: number }[];
  readonly fieldsMade: readonly string[];
}

/** What bringing it in would do. */
export interface LookReply {
  /** Of which version of what was said. */
  readonly version: number | null;
  /** Rows seen by the look at the latest version, while it goes on. */
  readonly cursor: number;
  /** Whether that is of all that was said and mended. */
  readonly isCurrent: boolean;
  readonly counts: LookCounts | null;
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
  readonly kind: ImportKind;
  readonly sheets: readonly string[];
  readonly sheetAt: number;
  readonly plan: ImportPlan;
  readonly planVersion: number;
  /** Whether it can still be taken as it came. */
  readonly hasFile: boolean;
  readonly look: LookReply;
  readonly cursor: number;
  readonly newCount: number;
  readonly changedCount: number;
  readonly unchangedCount: number;
  readonly refusedCount: number;
  /** Rows of people whom somebody else looks after; 0 for a member, whose reply counts them among the new. */
  readonly elsewhereCount: number;
  /** Why it ended before its end, where nobody stopped it. */
  readonly stoppedBy: 'people of colleagues' | null;
  /** Further rows of people who are counted by their first. */
  readonly againCount: number;
  /** Rows that somebody left out. */
  readonly outCount: number;
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
  /** Those of them whom somebody did change. */
  readonly changedSince: number;
}

/** A row of a file that is not in yet. */
export interface LookRow {
  readonly row: number;
  /** Of the file, from 1. */
  readonly line: number;
  readonly outcome: RowOutcome;
  /** Who is known by it. */
  readonly contact: number | null;
  /** The row of the same person before this one. */
  readonly sameAs: number | null;
  readonly isMended: boolean;
  readonly isLook: boolean;
  /** The beginning of each; a longer one ends in “…”. */
  readonly cells: readonly string[];
  readonly problems: readonly RowProblem[];
  /** What somebody has in a field that a cell changes, by column. */
  readonly was: Readonly<Record<string, string>>;
}

export interface LookPage {
  readonly version: number | null;
  readonly rows: readonly LookRow[];
}

/** Tags and own fields that only a taken-back import made, and that nobody has now. */
export interface LeftoverReply {
  readonly tags: readonly { readonly id: number; readonly name: string }[];
  readonly fields: readonly { readonly id: number; readonly label: string }[];
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
