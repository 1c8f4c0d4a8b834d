export { findHeader, HEADER_ROWS } from './header.js';
export {
  encodings,
  findSeparator,
  saidSeparator,
  recogniseColumns,
  separatorWords,
  separators,
  type Encoding,
  type Separator,
  type Target,
} from './columns.js';
export { cutCells, raisesPermission, readRow, type ImportedRow } from './row.js';
export const importStates = ['uploaded', 'running', 'done', 'cancelled'] as const;
export type ImportState = (typeof importStates)[number];
/** What a row did; people count by their first. `again`: a further row of somebody. `elsewhere`: of somebody whom a colleague looks after; nothing was changed, and only who sees everybody is told. */
export const rowOutcomes = [
  'new',
  'changed',
  'unchanged',
  'refused',
  'elsewhere',
  'again',
] as const;
export type RowOutcome = (typeof rowOutcomes)[number];
