// A table's columns are data: what they are called, what they show, how they sort, how wide they are.
import type { ReactNode } from 'react';

export interface Column<R> {
  readonly id: string;
  readonly name: string;
  readonly view: (row: R) => ReactNode;
  /** By what the column sorts; without it, it doesn't. What has no value comes last. */
  readonly sort?: (row: R) => string | number | null | undefined;
  /** Rows that come stretch by stretch are sorted by who gives them: whether they can be, by this. */
  readonly isSortable?: boolean;
  /** How the value of a cell is changed where it stands. */
  readonly edit?: CellEdit<R>;
  /** In px; a column without a width takes what is left. */
  readonly width?: number;
  /** Figures stand at the end. */
  readonly end?: boolean;
  /** The whole text, where it may be cut. */
  readonly title?: (row: R) => string | undefined;
  /** Always shown. */
  readonly fixed?: boolean;
  /** Shown only when asked for. */
  readonly hidden?: boolean;
}

export interface CellEdit<R> {
  readonly label: (row: R) => string;
  /** The text to begin with; undefined where this one can't be changed. */
  readonly text: (row: R) => string | undefined;
  /** What is offered while typing. */
  readonly offered?: readonly string[];
  /** Refused with words that say what to do. */
  readonly save: (row: R, text: string) => Promise<void>;
}

export interface Sorting {
  readonly id: string;
  readonly desc: boolean;
}

/** How somebody left a table. What it names and is gone is passed over, what it doesn't name is as at first. */
export interface TableArrangement {
  readonly order: readonly string[];
  readonly shown: Readonly<Record<string, boolean>>;
  readonly widths: Readonly<Record<string, number>>;
  readonly pinned: readonly string[];
}

/** Rows that are all here. */
export interface AllRows<R> {
  readonly rows: readonly R[];
}

/** Rows that the server gives stretch by stretch; they come in its order. */
export interface PagedRows<R> {
  readonly count: number;
  /** Undefined while it is on its way. */
  readonly at: (index: number) => R | undefined;
  /** What is in sight now, both ends included. */
  readonly onSight: (from: number, to: number) => void;
  /** All rows of a stretch, both ends included. */
  readonly load: (from: number, to: number) => Promise<readonly R[]>;
  readonly sorting: readonly Sorting[];
  readonly onSort: (sorting: readonly Sorting[]) => void;
}

export type Source<R> = AllRows<R> | PagedRows<R>;

export interface Selection<R> {
  readonly has: (row: R) => boolean;
  readonly toggle: (rows: readonly R[], on: boolean) => void;
  readonly all: boolean;
  readonly onAll: (on: boolean) => void;
  /** What a row is called when it is chosen. */
  readonly nameOf: (row: R) => string;
  /** Takes the place of the head while something is chosen. */
  readonly bar: ReactNode | undefined;
}

/** Least width of a column that takes what is left, in px. */
export const LEAST = 120;
export const NARROWEST = 48;
