// An import as who asks for it sees it.
import type { ImportReply } from '@palabra/contract/intake';
import type { LookCounts } from '@palabra/core/intake';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import type { ImportLine } from './intake.store.js';
import { planOf } from './plans.js';

const iso = (at: Date | null): string | null => at?.toISOString() ?? null;

const countsFor = (counts: LookCounts, { role }: Viewer): LookCounts => {
  const { outcomes } = counts;
  return seesEverybody(role)
    ? counts
    : {
        ...counts,
        outcomes: { ...outcomes, new: outcomes.new + outcomes.elsewhere, elsewhere: 0 },
      };
};

/** Beforehand, a row of a colleague's person looks to a member like any other; whom they met, which is limited, they are told afterwards. */
export const reply = ({ row, by, undoing }: ImportLine, viewer: Viewer): ImportReply => ({
  id: row.id,
  state: row.state,
  fileName: row.fileName,
  encoding: row.encoding,
  guesses: row.guesses,
  separator: row.separator,
  headerAt: row.headerAt,
  beginning: row.beginning,
  headers: row.headers,
  sample: row.sample,
  rows: row.rows,
  kind: row.kind,
  sheets: row.sheets,
  sheetAt: row.sheetAt,
  plan: planOf(row),
  planVersion: row.planVersion,
  hasFile: row.fileId !== '',
  look: {
    version: row.lookVersion,
    cursor: row.lookVersion === row.lookWanted ? row.rows : row.lookCursor,
    isCurrent: row.lookVersion === row.lookWanted,
    counts: row.look && countsFor(row.look, viewer),
  },
  cursor: row.cursor,
  newCount: row.newCount,
  changedCount: row.changedCount,
  unchangedCount: row.unchangedCount,
  refusedCount: row.refusedCount,
  elsewhereCount: row.elsewhereCount,
  stoppedBy: row.stoppedBy,
  againCount: row.againCount,
  outCount: row.outCount,
  doubtedCount: row.doubtedCount,
  knownSince: iso(row.knownSince),
  createdAt: row.createdAt.toISOString(),
  startedAt: iso(row.startedAt),
  finishedAt: iso(row.finishedAt),
  by,
  takenBack: undoing && {
    changeSet: undoing.id,
    count: undoing.count,
    leftAlone: undoing.leftAlone,
    isDone: undoing.finishedAt !== null,
  },
});
