export { findHeader, HEADER_ROWS } from './header.js';
export {
  encodingNames,
  encodings,
  guessed,
  likeliness,
  oddWords,
  type Encoding,
} from './encoding.js';
export {
  findSeparator,
  saidSeparator,
  separatorWords,
  separators,
  type Separator,
  type Target,
} from './columns.js';
export { recogniseColumns } from './recognise.js';
export { knownColumns, mappingFrom, shapeText, WRONG_COLUMN, type KnownColumn } from './shape.js';
export {
  countOutcomes,
  decideRows,
  furtherOf,
  numberOf,
  type DecidedPerson,
  type DecidedRows,
  type IdleRow,
  type KnownPerson,
  type ReadRow,
  type Terms,
} from './decide.js';
export { cutCells, raisesPermission, readRow, type ImportedRow } from './row.js';
export const importStates = ['uploaded', 'running', 'done', 'cancelled'] as const;
export type ImportState = (typeof importStates)[number];
export { rowOutcomes, type RowOutcome } from './outcomes.js';
import type { Id } from '../kernel/index.js';
export type ImportId = Id<'Import'>;
