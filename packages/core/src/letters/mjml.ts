// The letter as MJML.
import { blockMjml } from './blocks/index.js';
import type { LetterContent } from './content.js';
import {
  COLOURS,
  darkStyles,
  escapeHtml,
  lineHtml,
  type LetterLook,
  type Sentinels,
} from './render.js';

/** The whole letter as MJML; `sentinels` collects what stands at each sentinel. */
export function toMjml(letter: LetterContent, sentinels: Sentinels, look: LetterLook): string {
  const preview =
    letter.preview.length > 0
      ? `<mj-preview>${lineHtml(letter.preview, sentinels)}</mj-preview>`
      : '';
  const body = letter.blocks.map((block) => blockMjml(block, sentinels, look)).join('\n');
  return `<mjml lang="${escapeHtml(look.language)}"><mj-head>${preview}<mj-raw><meta name="color-scheme" content="light dark"><meta name="supported-color-schemes" content="light dark"></mj-raw><mj-style>${darkStyles}</mj-style><mj-title>${lineHtml(letter.subject, sentinels)}</mj-title><mj-attributes><mj-all font-family="Verdana, Arial, sans-serif" color="${COLOURS.ink}" /><mj-text font-size="16px" line-height="1.6" padding="8px 36px" /><mj-image padding="8px 36px" /><mj-button padding="12px 36px" font-size="16px" /><mj-divider padding="12px 36px" /><mj-section padding="0" /></mj-attributes></mj-head><mj-body css-class="ground" background-color="${COLOURS.ground}" width="600px"><mj-section css-class="paper" background-color="${COLOURS.paper}" padding="24px 0"><mj-column>${body}</mj-column></mj-section></mj-body></mjml>`;
}

/** The subject with sentinels, to be split like the rest. */
export const subjectSource = (letter: LetterContent, sentinels: Sentinels): string =>
  letter.subject
    .map((part) => (typeof part === 'string' ? part : sentinels.put({ slot: 'field', ...part })))
    .join('');
