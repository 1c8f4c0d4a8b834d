// What needs a hand: each line says what, and leads there.
import type { CampaignLine } from '@palabra/contract/campaigns';
import type { ImportReply } from '@palabra/contract/intake';
import type { OfficeReply } from '@palabra/contract/office';
import { count, people, peoplePath } from '../ui/numbers';

export interface Hand {
  readonly key: string;
  readonly to: string;
  readonly strong: string;
  readonly rest: string;
}

export interface Known {
  readonly office: OfficeReply;
  readonly campaigns: readonly CampaignLine[];
  readonly imports: readonly ImportReply[];
  /** Messages that came back and wait. */
  readonly returned: number;
  /** People refused so often in a row that somebody should look. */
  readonly refused: number;
}

const IMPORTS_SHOWN = 3;

export function handsOf({ office, campaigns, imports, returned, refused }: Known): Hand[] {
  const hands: Hand[] = [];
  if (office.postalAddress.trim() === '')
    hands.push({
      key: 'address',
      to: '/settings',
      strong: 'No postal address.',
      rest: 'Every letter has to carry one.',
    });
  for (const { id, name, status } of campaigns) {
    const rest =
      status === 'differs'
        ? 'waits for your word: its tally changed.'
        : status === 'paused'
          ? 'is paused.'
          : undefined;
    if (rest) hands.push({ key: `campaign ${id}`, to: `/campaigns/${id}`, strong: name, rest });
  }
  if (returned > 0)
    hands.push({
      key: 'returned',
      to: '/results/returned',
      strong: `${count(returned)} ${returned === 1 ? 'message' : 'messages'}`,
      rest: 'that came back to see to.',
    });
  if (refused > 0)
    hands.push({
      key: 'refused',
      to: peoplePath(`refused.${office.unreadBounceLimit}`),
      strong: people(refused),
      rest: `refused ${count(office.unreadBounceLimit)} times in a row, for reasons nobody could read.`,
    });
  // Rows of an import that was taken back are mended with it; those of a file brought again, by that.
  const open = imports.filter(
    (one) =>
      one.state === 'done' &&
      one.refusedCount > 0 &&
      !one.takenBack &&
      !imports.some((other) => other.id > one.id && isAgain(other, one)),
  );
  for (const { id, fileName, refusedCount } of open.slice(0, IMPORTS_SHOWN))
    hands.push({
      key: `rows ${id}`,
      to: `/intake/${id}`,
      strong: `${count(refusedCount)} ${refusedCount === 1 ? 'row' : 'rows'}`,
      rest: `of “${fileName}” ${refusedCount === 1 ? 'was' : 'were'} refused.`,
    });
  for (const { id, fileName } of imports.filter(({ state }) => state === 'uploaded').slice(0, 2))
    hands.push({
      key: `import ${id}`,
      to: `/intake/${id}`,
      strong: fileName,
      rest: 'was read but not brought in.',
    });
  return hands;
}

/** The refused rows of an import are taken out under its number, mended there, and brought again; or the whole file is. */
const isAgain = (later: ImportReply, earlier: ImportReply): boolean =>
  later.state === 'done' &&
  (later.fileName === earlier.fileName ||
    later.fileName.startsWith(`refused-rows-${earlier.id}.`) ||
    later.fileName.startsWith(`refused-rows-${earlier.id} `));
