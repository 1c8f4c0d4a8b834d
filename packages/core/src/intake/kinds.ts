/** What a list comes as. */
export const importKinds = ['text', 'workbook', 'cards'] as const;
export type ImportKind = (typeof importKinds)[number];
export const importKindWords: Record<ImportKind, string> = {
  text: 'a table in text',
  workbook: 'a workbook',
  cards: 'visiting cards',
};
