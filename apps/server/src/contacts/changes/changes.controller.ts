import { idOf } from '@palabra/core/kernel';
import { displayName, type ChangeSetId } from '@palabra/core/contacts';
import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post, Query } from '@nestjs/common';
import {
  ChangesQuery,
  DeedRequest,
  TaggingRequest,
  type ChangeReply,
  type ChangesPage,
} from '@palabra/contract/contacts';
import { seesEverybody, type UserId, type Viewer } from '@palabra/core/office';
import { HandOverRequest } from '@palabra/contract/office';
import { scope } from '../people/scope.store.js';
import { Database } from '../../platform/database.js';
import { Asking, May, Tells } from '../../platform/sign-in/guard.js';
import { ChangesService } from './changes.service.js';
import { changeLog, onlyOnes, type ChangeSet } from './changes.store.js';
import { changeReply } from './changes.view.js';

const PAGE = 50;

@Controller('api')
export class ChangesController {
  constructor(
    private readonly changes: ChangesService,
    private readonly database: Database,
  ) {}

  /** Who did what to how many; members see what they did themselves. */
  @Get('changes')
  @Tells('own people')
  async log(@Query() { before }: ChangesQuery, @Asking() viewer: Viewer): Promise<ChangesPage> {
    const userId = seesEverybody(viewer.role) ? undefined : viewer.userId;
    const rows = await changeLog(this.database.db, {
      userId,
      before: before === undefined ? undefined : idOf(before),
      limit: PAGE,
    });
    const names = await this.namesOf(
      rows.map(({ set }) => set),
      viewer,
    );
    return {
      changes: rows.map(({ set, by }) => changeReply(set, by, names.get(set.id))),
      before: rows.length === PAGE ? (rows.at(-1)?.set.id ?? null) : null,
    };
  }

  @Get('changes/:id')
  @Tells('own people')
  async one(
    @Param('id', ParseIntPipe) id: ChangeSetId,
    @Asking() viewer: Viewer,
  ): Promise<ChangeReply> {
    const set = await this.changes.change(id, viewer);
    return changeReply(set, null, (await this.namesOf([set], viewer)).get(set.id));
  }

  /** Who it was, where a change was about one person. */
  private async namesOf(
    sets: readonly ChangeSet[],
    viewer: Viewer,
  ): Promise<ReadonlyMap<ChangeSetId, string>> {
    const ids = sets.filter(({ count }) => count === 1).map(({ id }) => id);
    const found = await onlyOnes(this.database.db, ids, scope(viewer));
    return new Map(
      found.map((row) => [
        row.set_id,
        displayName({ given: row.given_name, family: row.family_name }, row.address),
      ]),
    );
  }

  @Post('owners/:id/hand-over')
  @HttpCode(200)
  @May('settings')
  @Tells('own people')
  async handOver(
    @Param('id', ParseIntPipe) id: UserId,
    @Body() request: HandOverRequest,
    @Asking() viewer: Viewer,
  ): Promise<ChangeReply> {
    return changeReply(await this.changes.handOver(id, idOf(request.to), viewer), null);
  }

  @Post('tagging')
  @HttpCode(200)
  @May('change people')
  @Tells('own people')
  async tagging(@Body() request: TaggingRequest, @Asking() viewer: Viewer): Promise<ChangeReply> {
    return changeReply(await this.changes.tag(request, viewer), null);
  }

  @Post('deeds')
  @HttpCode(200)
  @May('change people')
  @Tells('own people')
  async doToMany(@Body() request: DeedRequest, @Asking() viewer: Viewer): Promise<ChangeReply> {
    return changeReply(await this.changes.doToMany(request, viewer), null);
  }

  @Post('changes/:id/undo')
  @HttpCode(200)
  @May('change people')
  @Tells('own people')
  async undo(
    @Param('id', ParseIntPipe) id: ChangeSetId,
    @Asking() viewer: Viewer,
  ): Promise<ChangeReply> {
    return changeReply(await this.changes.undo(id, viewer), null);
  }

  @Post('changes/:id/cancel')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  cancel(@Param('id', ParseIntPipe) id: ChangeSetId, @Asking() viewer: Viewer): Promise<void> {
    return this.changes.cancel(id, viewer);
  }
}
