// What a field is; how each type of it behaves stands in a file of its own, and in the registry in `index.ts`.
export const sinceUnits = ['years', 'days'] as const;
export type SinceUnit = (typeof sinceUnits)[number];

export const fieldTypes = [
  'text',
  'long text',
  'number',
  'money',
  'date',
  'yes or no',
  'choice',
  'choices',
  'link',
  'computed',
  'phone',
  'phones',
  'addresses',
] as const;
export type FieldType = (typeof fieldTypes)[number];

export interface Choice {
  readonly key: string;
  readonly label: string;
  /** No longer offered; whoever has it keeps it. */
  readonly isGone?: true;
}

/** What an own field can be, and the built-in ones are. */
export interface Field {
  /** `given_name` for a built-in one, `own_7` for the office's own. */
  readonly key: string;
  readonly label: string;
  readonly type: FieldType;
  readonly choices?: readonly Choice[];
  /** What could be chosen when it was a choice: rules from then name these. */
  readonly formerChoices?: readonly Choice[];
  /** Known by the system; nobody fills it. */
  readonly isFact?: true;
  /** Nobody new comes without it, and nobody's is cleared. */
  readonly isRequired?: true;
  /** What somebody new has in it, as it is typed. */
  readonly standard?: string;
  /** What it is for. */
  readonly help?: string;
  /** Under which it stands on a person's page. */
  readonly group?: string;
  /** Of amounts of money (ISO 4217). */
  readonly currency?: string;
  /** From which day a computed one is counted, and in what. */
  readonly since?: { readonly day: string; readonly unit: SinceUnit };
  /** How the office's country (ISO 3166) dials: its code, and what stands before a number at home. */
  readonly dialling?: Dialling;
}

export interface Dialling {
  readonly country: string;
  readonly code: string;
  readonly trunk: string;
}

export const FIELD_LIMITS = {
  /** Signs. */
  text: 1000,
  longText: 10_000,
  /** Further addresses or numbers of one person. */
  lines: 10,
  choices: 100,
  /** Own fields of an office. */
  fields: 200,
} as const;

export type FieldValue = string | number | boolean | null;
