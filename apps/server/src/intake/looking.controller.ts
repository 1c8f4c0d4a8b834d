import { lookParts, type ImportId } from '@palabra/core/intake';
import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  Post,
  Put,
  Query,
} from '@nestjs/common';
import {
  MendRequest,
  PlanRequest,
  type ImportReply,
  type LookPage,
} from '@palabra/contract/intake';
import type { Viewer } from '@palabra/core/office';
import { Asking, May, Tells } from '../platform/sign-in/guard.js';
import { reply } from './intake.view.js';
import { IntakeService } from './intake.service.js';
import { LookingService } from './looking.service.js';

const PAGE = 100;

@Controller('api/imports')
export class LookingController {
  constructor(
    private readonly looking: LookingService,
    private readonly intake: IntakeService,
  ) {}

  @Put(':id/plan')
  @May('change people')
  @Tells('own people')
  async plan(
    @Param('id', ParseIntPipe) id: ImportId,
    @Body() request: PlanRequest,
    @Asking() viewer: Viewer,
  ): Promise<ImportReply> {
    await this.looking.plan(id, request, viewer);
    return reply(await this.intake.import(id, viewer), viewer);
  }

  /** Rows as they would come in, by what they would do. */
  @Get(':id/rows')
  @Tells('own people')
  rows(
    @Param('id', ParseIntPipe) id: ImportId,
    @Query('part') part: string | undefined,
    @Query('from', new ParseIntPipe({ optional: true })) from = 0,
    @Asking() viewer: Viewer,
  ): Promise<LookPage> {
    const known = lookParts.find((one) => one === part) ?? 'look';
    return this.looking.rows(id, known, { from: Math.max(0, from), limit: PAGE }, viewer);
  }

  @Post(':id/rows/:row')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  mend(
    @Param('id', ParseIntPipe) id: ImportId,
    @Param('row', ParseIntPipe) row: number,
    @Body() request: MendRequest,
    @Asking() viewer: Viewer,
  ): Promise<void> {
    return this.looking.mend(id, row, request, viewer);
  }

  /** Leaves all rows to look at out. */
  @Post(':id/leave-out')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  leaveOut(@Param('id', ParseIntPipe) id: ImportId, @Asking() viewer: Viewer): Promise<void> {
    return this.looking.decideAll(id, 'out', viewer);
  }

  /** Takes all rows to look at as they are: cells that can't be read stay empty. */
  @Post(':id/take-as-they-are')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  takeAsTheyAre(@Param('id', ParseIntPipe) id: ImportId, @Asking() viewer: Viewer): Promise<void> {
    return this.looking.decideAll(id, 'seen', viewer);
  }

  @Post(':id/unmend')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  unmend(@Param('id', ParseIntPipe) id: ImportId, @Asking() viewer: Viewer): Promise<void> {
    return this.looking.unmend(id, viewer);
  }
}
