export { encodings, findSeparator, recogniseColumns, separatorWords, separators, type Encoding, type Separator, type Target } from './columns.js';
export { raisesPermission, readRow, type ImportedRow } from './row.js';
export const importStates = ['uploaded', 'running', 'done', 'cancelled'] as const;
export type ImportState = (typeof importStates)[number];
export const rowOutcomes = ['new', 'changed', 'unchanged', 'refused'] as const;
export type RowOutcome = (typeof rowOutcomes)[number];
