import type { ImportReply } from '@palabra/contract/intake';
import type { PeopleParts } from '@palabra/core/contacts';
import type { ImportState, LookPart } from '@palabra/core/intake';

const stateWords: Record<ImportState, string> = {
  uploaded: 'not begun',
  running: 'running',
  done: 'done',
  cancelled: 'cancelled',
  'thrown away': 'thrown away',
};
/** Where an import stands; one that was taken back says so, whatever it was before. */
export const importWords = ({ state, takenBack }: ImportReply): string =>
  takenBack ? (takenBack.isDone ? 'taken back' : 'being taken back') : stateWords[state];
export const mayBeTakenBack = (data: ImportReply): boolean =>
  (data.state === 'done' || data.state === 'cancelled') && !data.takenBack;

/** What rows would do, in the order in which they are shown. */
export const lookWords: Readonly<Record<LookPart, string>> = {
  look: 'to look at',
  new: 'new',
  changed: 'change',
  unchanged: 'as they are',
  again: 'said again',
  elsewhere: 'of others',
  out: 'left out',
};

/** How many rows there are of a part; mended ones stay where one mended them. */
export function partCount({ look: { counts } }: ImportReply, part: LookPart): number {
  if (!counts) return 0;
  return part === 'look' ? counts.look + counts.mended : counts.outcomes[part];
}

export const lookPath = (id: number, part: LookPart): string => `/intake/${id}?part=${part}`;

/** Those of an import’s people that a list can show. */
export type ImportPart = Exclude<PeopleParts['import'], ''>;
