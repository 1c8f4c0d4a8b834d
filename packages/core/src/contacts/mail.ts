// Why an address gets nothing, whatever any list says.
import type { Id } from '../kernel/index.js';

/** Of people who are there. */
export const doNotMailReasons = ['left', 'complained', 'hard bounce', 'by hand'] as const;
/** Behind an erased address there is nobody any more: only its hash is known, and nobody may bring it in again but its owner. */
export type DoNotMailReason = (typeof doNotMailReasons)[number] | 'erased';

export const doNotMailWords: Record<DoNotMailReason, string> = {
  left: 'left',
  complained: 'complained',
  'hard bounce': 'the address is dead',
  'by hand': 'put there by hand',
  erased: 'erased at their own request',
};

/** How a person stands to being mailed, each on one line only, in the order of a campaign's tally. */
export const standings = ['no address', 'do not mail', 'no permission', 'may be mailed'] as const;
export type Standing = (typeof standings)[number];

export type PoolId = Id<'Pool'>;
export const poolKinds = ['house', 'partner', 'prospects'] as const;
export type PoolKind = (typeof poolKinds)[number];
