export {
  DEFAULT_REASON,
  addableKinds,
  emptyBlock,
  emptyLetter,
  isSafeHref,
  lineText,
  paragraph,
  parseLetter,
  type Block,
  type BlockKind,
  type ButtonBlock,
  type FooterBlock,
  type HeadingBlock,
  type Inline,
  type LetterContent,
  type Line,
  type Mark,
  type PersonalField,
  type PictureBlock,
  type RichText,
  type TextBlock,
  type TextNode,
} from './content.js';
export { changeBlock, insertBlock, moveBlock, removeBlock } from './edit.js';
export {
  Sentinels,
  escapeHtml,
  richTextHtml,
  subjectSource,
  toMjml,
  type LetterLook,
  type Slot,
} from './mjml.js';
export {
  encodeParts,
  personalise,
  splitAtSentinels,
  usedFields,
  type CompiledLetter,
  type Context,
  type Part,
  type ReaderCopy,
  type TrackedLink,
} from './compiled.js';
export {
  PREVIEW,
  checkLetter,
  type CheckLevel,
  type CheckResult,
  type LetterSituation,
  type Place,
} from './checks.js';
export { shippedTemplates, type ShippedTemplate } from './templates.js';
import type { Id } from '../kernel/index.js';
export type LetterId = Id<'Letter'>;
