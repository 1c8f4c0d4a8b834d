// What is said of a file before it comes in, and done to its rows by hand; each has it looked at anew.
import { Injectable } from '@nestjs/common';
import type { LookPage, MendRequest, PlanRequest } from '@palabra/contract/intake';
import type { ContactId } from '@palabra/core/contacts';
import type { ImportId, LookPart, Mend } from '@palabra/core/intake';
import { idOf } from '@palabra/core/kernel';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import { VocabularyService } from '../contacts/index.js';
import { Database, type Db } from '../platform/database.js';
import { Jobs } from '../platform/jobs.js';
import { conflict } from '../platform/refusals.js';
import { ImportFiles } from './files.js';
import { refuse } from './intake.refusals.js';
import { IntakeService } from './intake.service.js';
import * as store from './intake.store.js';
import { LookWork } from './look-work.js';
import * as looks from './look.store.js';
import { keptPlan, planOf, wouldDoElse } from './plans.js';

@Injectable()
export class LookingService {
  constructor(
    private readonly database: Database,
    private readonly intake: IntakeService,
    private readonly look: LookWork,
    private readonly files: ImportFiles,
    private readonly vocabulary: VocabularyService,
    private readonly jobs: Jobs,
  ) {}

  /** Keeps what is said of a file, and has it looked at anew. */
  async plan(id: ImportId, request: PlanRequest, viewer: Viewer): Promise<void> {
    const { db } = this.database;
    const { row } = await this.intake.import(id, viewer);
    if (row.state !== 'uploaded') throw refuse('begun-already');
    if (row.planVersion !== request.version)
      throw conflict('import', { version: row.planVersion, plan: planOf(row) });
    const kept = await keptPlan(db, request, row, await this.vocabulary.fields(), viewer);
    const said = await store.saidOf(db, id, kept, {
      version: request.version,
      isLookedAtAnew: wouldDoElse(row, kept),
    });
    if (!said) {
      const now = (await this.intake.import(id, viewer)).row;
      if (now.state !== 'uploaded') throw refuse('begun-already');
      throw conflict('import', { version: now.planVersion, plan: planOf(now) });
    }
    await this.jobs.nudge('looking', id);
  }

  /** Rows as they would come in. */
  async rows(
    id: ImportId,
    part: LookPart,
    page: { readonly from: number; readonly limit: number },
    viewer: Viewer,
  ): Promise<LookPage> {
    const { lookVersion } = (await this.intake.import(id, viewer)).row;
    const seesAll = seesEverybody(viewer.role);
    if (lookVersion === null || (part === 'elsewhere' && !seesAll))
      return { version: lookVersion, rows: [] };
    const rows = await looks.lookPage(this.database.db, id, lookVersion, part, seesAll, page);
    return { version: lookVersion, rows };
  }

  /** Changes one row by hand, and says at once what it would do now. */
  async mend(id: ImportId, row: number, request: MendRequest, viewer: Viewer): Promise<void> {
    const { db } = this.database;
    const current = (await this.intake.import(id, viewer)).row;
    if (current.state !== 'uploaded') throw refuse('begun-already');
    if (row < 1 || row > current.rows) throw refuse('no-such-row');
    const columns = Object.keys(request.cells ?? {}).map(Number);
    if (columns.some((at) => at >= current.headers.length)) throw refuse('no-such-column');
    // What the look knows of a row saves reading the file up to it.
    const seen = request.back
      ? undefined
      : await looks.wholeRow(db, id, current.lookVersion ?? 0, row);
    const line = seen ?? (await this.files.line(current, row));
    if (!line) throw refuse('no-such-row');
    this.look.mending(id);
    const mend = await this.changed(id, async (tx) => {
      // Whoever mends another cell of the row meanwhile waits for this one.
      const next = mendedBy(await looks.mendOf(tx, id, row), request);
      if (next) await looks.putMend(tx, { importId: id, row, ...next });
      else await looks.dropMends(tx, id, row);
      return next;
    });
    const now = (await this.intake.import(id, viewer)).row;
    if (now.lookVersion !== null)
      await this.look.again(now, mend ? { ...line, mend } : line, now.lookVersion);
  }

  /** Leaves out, or takes as they are, all rows that are to be looked at now. */
  async decideAll(id: ImportId, how: 'out' | 'seen', viewer: Viewer): Promise<void> {
    const { lookVersion } = (await this.intake.import(id, viewer)).row;
    if (lookVersion === null) throw refuse('not-yet');
    await this.changed(id, (tx) => looks.decideLooks(tx, id, lookVersion, how));
  }

  /** Takes all back that was done to rows by hand. */
  async unmend(id: ImportId, viewer: Viewer): Promise<void> {
    await this.intake.import(id, viewer);
    await this.changed(id, (tx) => looks.dropMends(tx, id));
  }

  private async changed<T>(id: ImportId, work: (tx: Db) => Promise<T>): Promise<T> {
    const result = await this.database.transaction(async (tx) => {
      if (!(await store.wantLook(tx, id))) throw refuse('begun-already');
      return work(tx);
    });
    await this.jobs.nudge('looking', id);
    return result;
  }
}

/** What is done to a row by now; undefined where it is as in the file. */
function mendedBy(before: Mend | undefined, request: MendRequest): Mend | undefined {
  if (request.back) return undefined;
  const { person = before?.person ?? null } = request;
  const mend = {
    cells: { ...before?.cells, ...request.cells },
    isOut: request.isOut ?? before?.isOut ?? false,
    person: person === null ? null : idOf<ContactId>(person),
    isSeen: request.isSeen ?? before?.isSeen ?? false,
  };
  const isTouched =
    Object.keys(mend.cells).length > 0 || mend.isOut || mend.person !== null || mend.isSeen;
  return isTouched ? mend : undefined;
}
