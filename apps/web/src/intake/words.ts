import type { ImportReply } from '@palabra/contract/intake';
import type { PeopleParts } from '@palabra/core/contacts';
import type { ImportState } from '@palabra/core/intake';

const stateWords: Record<ImportState, string> = {
  uploaded: 'not begun',
  running: 'running',
  done: 'done',
  cancelled: 'cancelled',
};
/** Where an import stands; one that was taken back says so, whatever it was before. */
export const importWords = ({ state, takenBack }: ImportReply): string =>
  takenBack ? (takenBack.isDone ? 'taken back' : 'being taken back') : stateWords[state];
export const mayBeTakenBack = (data: ImportReply): boolean =>
  (data.state === 'done' || data.state === 'cancelled') && !data.takenBack;

/** Those of an import’s people that a list can show. */
export type ImportPart = Exclude<PeopleParts['import'], ''>;
