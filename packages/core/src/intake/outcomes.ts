/** What a row did; people count by their first. `out`: somebody left it out by hand. `again`: a further row of somebody. `elsewhere`: of somebody whom a colleague looks after; nothing was changed, and only who sees everybody is told. */
export const rowOutcomes = [
  'new',
  'changed',
  'unchanged',
  'refused',
  'elsewhere',
  'again',
  'out',
] as const;
export type RowOutcome = (typeof rowOutcomes)[number];
