// Tags that nobody puts on: who has one follows from what happened, and is asked anew each time.
import { idOf } from '../kernel/index.js';
import type { TagId } from './tags.js';

/** In days. */
export const ANSWERED_LATELY = 90;
export const NEW_FOR = 30;
/** So many letters must have gone out to somebody before silence says anything. */
export const NEVER_ANSWERED_AFTER = 3;

/** By what each is called. The keys are above those of the office’s own tags, and stay. */
const tags = {
  left: { id: 900_000_001, purpose: 'Left the letters by themselves' },
  bounced: { id: 900_000_002, purpose: 'Their address is dead: letters came back for good' },
  'answered lately': {
    id: 900_000_003,
    purpose: `Opened or clicked within the last ${ANSWERED_LATELY} times 24 hours`,
  },
  'never answered': {
    id: 900_000_004,
    purpose: `Got ${NEVER_ANSWERED_AFTER} letters or more that did not come back, opened none and clicked nothing`,
  },
  new: { id: 900_000_005, purpose: `Came in within the last ${NEW_FOR} times 24 hours` },
} as const satisfies Readonly<Record<string, { readonly id: number; readonly purpose: string }>>;

export type AutomaticTag = keyof typeof tags;

export const automaticTags = (
  Object.entries(tags) as [AutomaticTag, { readonly id: number; readonly purpose: string }][]
).map(([name, { id, purpose }]) => ({ name, id: idOf<TagId>(id), purpose }));

const byId = new Map<number, AutomaticTag>(automaticTags.map(({ id, name }) => [id, name]));

/** Which automatic tag a key is of; undefined for a tag of the office’s. */
export const automaticTag = (id: number): AutomaticTag | undefined => byId.get(id);
