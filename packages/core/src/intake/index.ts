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
  knownWays,
  knownWayWords,
  matchings,
  waysOf,
  type KnownWay,
  type Matching,
  type Separator,
  type Target,
} from './columns.js';
export { cardColumns, CardReader, type CardRow } from './cards.js';
export { cellFormat, shownNumber, type CellFormat } from './serial-day.js';
export { countryCode, countryCodes, countryText } from './country.js';
export { splitName } from './names.js';
export { lookParts, mended, type LookCounts, type LookPart, type Mend, type Plan } from './plan.js';
export {
  likelyAddress,
  problem,
  problemKinds,
  reasonOf,
  type Offer,
  type ProblemKind,
  type RowProblem,
} from './problems.js';
export { guessedType, recogniseColumns } from './recognise.js';
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
export {
  cutCells,
  isWhole,
  raisesPermission,
  readRow,
  shownValue,
  type ImportedRow,
} from './row.js';
/** `thrown away` before it was brought in, and forgotten soon. */
export const importStates = ['uploaded', 'running', 'done', 'cancelled', 'thrown away'] as const;
export type ImportState = (typeof importStates)[number];
export { importKinds, type ImportKind } from './kinds.js';
export { rowOutcomes, type RowOutcome } from './outcomes.js';
import type { Id } from '../kernel/index.js';
export type ImportId = Id<'Import'>;
