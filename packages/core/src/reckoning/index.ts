export {
  latestFirst,
  reckonBounces,
  reckonLetter,
  reckonPerson,
  type EventRow,
  type LetterReckoning,
  type LetterRow,
  type PersonReckoning,
} from './letters.js';
export { reckonRule, type OfficeRows, type PersonRow } from './rules.js';
