/** What a list comes as: a table in text, a workbook, or visiting cards. */
export const importKinds = ['text', 'workbook', 'cards'] as const;
export type ImportKind = (typeof importKinds)[number];
