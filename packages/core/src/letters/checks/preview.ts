import { lineText } from '../text.js';
import type { LetterCheck } from './kind.js';

/** Signs of a preview line that inboxes show whole and fill. */
export const PREVIEW = { least: 40, most: 140 } as const;

export const preview: LetterCheck = ({ content }) => {
  const length = [...lineText(content.preview)].length;
  const say = (text: string) => [{ level: 'caution', text, place: { at: 'preview' } } as const];
  if (length === 0)
    return say('There is no preview line; the inbox will show the first words of the letter.');
  const { least, most } = PREVIEW;
  if (length < least)
    return say(`The preview line is short: ${length} signs, ${least} to ${most} work.`);
  return length > most
    ? say(`The preview line is long: ${length} signs, ${least} to ${most} work.`)
    : [];
};
