import type { CampaignId } from '@palabra/core/campaigns';
import { Controller, Get, Param, ParseIntPipe, Query } from '@nestjs/common';
import type { ResultLine, ResultReply, SinceReply } from '@palabra/contract/results';
import type { Viewer } from '@palabra/core/office';
import { Asking, Tells } from '../platform/sign-in/guard.js';
import { ResultsService } from './results.service.js';

const PAGE = 30;

@Controller('api/results')
export class ResultsController {
  constructor(private readonly results: ResultsService) {}

  @Get()
  @Tells('shared')
  list(
    @Query('before') before?: string,
    @Query('limit', new ParseIntPipe({ optional: true })) limit = PAGE,
  ): Promise<ResultLine[]> {
    return this.results.list(
      before === undefined ? undefined : String(before),
      Math.min(Math.max(limit, 1), PAGE),
    );
  }

  @Get('since')
  @Tells('own people')
  async since(@Asking() viewer: Viewer): Promise<SinceReply> {
    const { from, came_in, left_count, hard_bounces } = await this.results.since(1, viewer);
    return {
      from: from.toISOString(),
      cameIn: came_in,
      left: left_count,
      hardBounces: hard_bounces,
    };
  }

  @Get(':id')
  @Tells('shared')
  one(@Param('id', ParseIntPipe) id: CampaignId, @Asking() viewer: Viewer): Promise<ResultReply> {
    return this.results.one(id, viewer);
  }
}
