export {
  addableKinds,
  blockKinds,
  blockWords,
  emptyBlock,
  withChildren,
  type Block,
  type BlockKind,
  type BlockOf,
} from './blocks/index.js';
export { type ButtonBlock } from './blocks/button.js';
export { DEFAULT_REASON, type FooterBlock } from './blocks/footer.js';
export { type HeadingBlock } from './blocks/heading.js';
export { type PictureBlock } from './blocks/picture.js';
export { type TextBlock } from './blocks/text.js';
export {
  emptyLetter,
  fieldsWithoutFallback,
  parseLetter,
  personalFieldsOf,
  type LetterContent,
} from './content.js';
export {
  isSafeHref,
  lineText,
  paragraph,
  type Inline,
  type Line,
  type Mark,
  type PersonalField,
  type RichText,
  type TextNode,
} from './text.js';
export { changeBlock, insertBlock, moveBlock, removeBlock } from './edit.js';
export { subjectSource, toMjml } from './mjml.js';
export { Sentinels, escapeHtml, richTextHtml, type LetterLook, type Slot } from './render.js';
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
  runChecks,
  type CheckLevel,
  type CheckResult,
  type Finding,
  type LetterSituation,
  type Place,
} from './checks/index.js';
export { shippedTemplates, type ShippedTemplate } from './templates.js';
import type { Id } from '../kernel/index.js';
export type LetterId = Id<'Letter'>;
