// Pieces of SQL without tables: text, parameters, and references to logical sources. The server binds them.
export type Reference =
  /** The search key of a text field, built in or own; null where the field is empty. */
  | { readonly of: 'key'; readonly field: string }
  /** All search keys of a contact as one JSON object, for containment. */
  | { readonly of: 'keys' }
  | { readonly of: 'contact'; readonly field: 'owner' | 'permission' | 'came_in' }
  /** The moment behind a day: what an index knows, where `came_in` is a day of the office. */
  | { readonly of: 'moment'; readonly field: 'came_in' }
  /** One of the office's own fields: a number, or a day or word as text. */
  | { readonly of: 'own'; readonly field: string; readonly as: 'number' | 'word' }
  | { readonly of: 'contact id' }
  | { readonly of: 'tag' };

export type Piece =
  | string
  | {
      readonly param: string | number | boolean | readonly number[] | readonly string[];
      readonly type: 'text' | 'numeric' | 'date' | 'int[]' | 'text[]' | 'jsonb';
    }
  /** The moment at which a day of the office, `YYYY-MM-DD`, begins or is over. */
  | { readonly day: string; readonly edge: 'begins' | 'is over' }
  | { readonly ref: Reference };

export type Fragment = readonly Piece[];

export const everybody: Fragment = ['true'];
export const nobody: Fragment = ['false'];

export const join = (parts: readonly Fragment[], link: ' and ' | ' or '): Fragment =>
  parts.length === 1
    ? (parts[0] ?? everybody)
    : ['(', ...parts.flatMap((part, at) => (at === 0 ? part : [link, ...part])), ')'];

export const negate = (part: Fragment): Fragment => ['not (', ...part, ')'];
