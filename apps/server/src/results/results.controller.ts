import { Controller, Get, Param, ParseIntPipe, Query } from '@nestjs/common';
import type { ResultLine, ResultReply, SinceReply } from '@palabra/contract/results';
import { ResultsService } from './results.service.js';

const PAGE = 30;

@Controller('api/results')
export class ResultsController {
  constructor(private readonly results: ResultsService) {}

  @Get()
  list(@Query('before') before?: string, @Query('limit', new ParseIntPipe({ optional: true })) limit = PAGE): Promise<ResultLine[]> {
    return this.results.list(before === undefined ? undefined : String(before), Math.min(Math.max(limit, 1), PAGE));
  }

  @Get('since')
  async since(): Promise<SinceReply> {
    const { from, came_in, left_count, hard_bounces } = await this.results.since(1);
    return { from: from.toISOString(), cameIn: came_in, left: left_count, hardBounces: hard_bounces };
  }

  @Get(':id')
  one(@Param('id', ParseIntPipe) id: number): Promise<ResultReply> {
    return this.results.one(id);
  }
}
