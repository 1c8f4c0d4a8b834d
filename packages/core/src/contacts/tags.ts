// Tags: their colours and what a name may be.
import { fail, ok, type Id, type Result } from '../kernel/index.js';
import { oneLine } from './text.js';

export type TagId = Id<'Tag'>;

/** A colour-blind-safe set; the hues are defined with the look, the names are what is stored. */
export const tagColours = [
  'moss',
  'iris',
  'lagoon',
  'ochre',
  'clay',
  'plum',
  'slate',
  'sky',
] as const;
export type TagColour = (typeof tagColours)[number];

export const TAG_NAME_LIMIT = 60;

export function parseTagName(text: string): Result<string, string> {
  const name = oneLine(text);
  if (name === '') return fail('A tag needs a name.');
  return [...name].length > TAG_NAME_LIMIT
    ? fail(`A tag's name has ${TAG_NAME_LIMIT} signs at the most.`)
    : ok(name);
}
