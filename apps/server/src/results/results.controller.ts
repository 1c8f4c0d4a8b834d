import { Controller, Get, Param, ParseIntPipe, Query } from '@nestjs/common';
import type { ResultLine, ResultReply, SinceReply } from '@palabra/contract/results';
import { ResultsService } from './results.service.js';

@Controller('api/results')
export class ResultsController {
  constructor(private readonly results: ResultsService) {}

  @Get()
  async list(@Query('before') before?: string): Promise<ResultLine[]> {
    return (await this.results.list(before === undefined ? undefined : String(before))).map((row) => ({
      id: row.id,
      name: row.name,
      subject: row.subject ?? '',
      startedAt: row.started_at.toISOString(),
      status: row.status,
      sent: row.sent,
      delivered: row.delivered,
      opened: row.opened,
      clicked: row.clicked,
      bounced: row.bounced,
      left: row.left_count,
    }));
  }

  @Get('since')
  async since(): Promise<SinceReply> {
    const { came_in, left_count, hard_bounces } = await this.results.since(1);
    return { cameIn: came_in, left: left_count, hardBounces: hard_bounces };
  }

  @Get(':id')
  one(@Param('id', ParseIntPipe) id: number): Promise<ResultReply> {
    return this.results.one(id);
  }
}
