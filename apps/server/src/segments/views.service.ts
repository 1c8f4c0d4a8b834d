// Views: saved arrangements of the table of contacts, one's own or shared by a colleague.
import { Inject, Injectable } from '@nestjs/common';
import type { NewViewRequest, ViewLine, ViewRequest } from '@palabra/contract/segments';
import { oneLine } from '@palabra/core/contacts';
import { idOf, type Clock } from '@palabra/core/kernel';
import type { UserId, Viewer } from '@palabra/core/office';
import { parseArrangement, type ViewId } from '@palabra/core/segments';
import { Database } from '../platform/database.js';
import { conflict, notFound } from '../platform/refusals.js';
import { CLOCK } from '../platform/time.js';
import { FiltersService } from './filters.service.js';
import { refuse } from './segments.refusals.js';
import { RulesService } from './rules.service.js';
import { SegmentsService } from './segments.service.js';
import * as store from './views.store.js';

@Injectable()
export class ViewsService {
  constructor(
    private readonly database: Database,
    private readonly rules: RulesService,
    private readonly filters: FiltersService,
    private readonly segments: SegmentsService,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  async list({ userId }: Viewer): Promise<ViewLine[]> {
    const { db } = this.database;
    const start = await store.startOf(db, userId);
    const lines: ViewLine[] = [];
    for (const view of await store.viewsOf(db, userId))
      lines.push({
        id: view.id,
        name: view.name,
        version: view.version,
        isMine: view.ownerId === userId,
        owner: view.owner,
        sharedWithAll: view.sharedWithAll,
        // With whom else is for its owner to know.
        sharedWith: view.ownerId === userId ? view.sharedWith : [],
        isStart: view.id === start,
        arrangement: view.arrangement,
        filter: view.rule && (await this.filters.keepRule(view.rule)),
      });
    return lines;
  }

  async add(request: NewViewRequest, viewer: Viewer): Promise<{ id: ViewId; version: number }> {
    const values = await this.read(request, viewer);
    await this.segments.refuseTooMuch(viewer, [values.rule, values.arrangement]);
    const { userId } = viewer;
    return {
      id: await store.addView(this.database.db, userId, values, this.clock.now()),
      version: 1,
    };
  }

  async change(id: ViewId, request: ViewRequest, viewer: Viewer): Promise<{ version: number }> {
    const { db } = this.database;
    const before = await this.own(id, viewer);
    const values = await this.read(request, viewer);
    await this.segments.refuseTooMuch(
      viewer,
      [values.rule, values.arrangement],
      [before.rule, before.arrangement],
    );
    const version = await store.changeView(db, id, request.version, values, this.clock.now());
    if (version !== undefined) return { version };
    const current = await store.viewFor(db, id, viewer.userId);
    if (!current) throw notFound('view');
    throw conflict('view', { version: current.version, name: current.name });
  }

  async setDeleted(id: ViewId, isDeleted: boolean, viewer: Viewer): Promise<void> {
    if (isDeleted) await this.own(id, viewer);
    const at = isDeleted ? this.clock.now() : null;
    if (!(await store.setViewDeleted(this.database.db, id, viewer.userId, at)))
      throw notFound('view');
  }

  async begin(id: ViewId | null, { userId }: Viewer): Promise<void> {
    const { db } = this.database;
    if (id !== null && !(await store.viewFor(db, id, userId))) throw notFound('view');
    await store.setStart(db, userId, id);
  }

  private async own(id: ViewId, { userId }: Viewer): Promise<store.View> {
    const view = await store.viewFor(this.database.db, id, userId);
    if (!view) throw notFound('view');
    if (view.ownerId !== userId) throw refuse('not-your-view');
    return view;
  }

  private async read(request: NewViewRequest, viewer: Viewer): Promise<store.ViewValues> {
    const name = oneLine(request.name);
    if (name === '') throw refuse('no-view-name');
    const arrangement = parseArrangement(request.arrangement);
    if (!arrangement.ok) throw refuse('view-unread', arrangement.error);
    return {
      name,
      sharedWithAll: request.sharedWithAll,
      sharedWith: request.sharedWith.map((one) => idOf<UserId>(one)),
      arrangement: arrangement.value,
      rule: request.rule ? (await this.rules.readFor(request.rule, viewer)).rule : null,
    };
  }
}
