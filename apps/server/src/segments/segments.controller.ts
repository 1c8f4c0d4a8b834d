import type { ContactId } from '@palabra/core/contacts';
import type { SegmentId } from '@palabra/core/segments';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  Post,
  Put,
  Res,
} from '@nestjs/common';
import {
  NewSegmentRequest,
  SegmentRequest,
  SiftRequest,
  WhyRequest,
  type SegmentLine,
  type SegmentReply,
  type SiftReply,
  type StrainReply,
  type WhyReply,
} from '@palabra/contract/segments';
import type { Use } from '@palabra/contract/wire';
import type { Viewer } from '@palabra/core/office';
import type { Response } from 'express';
import { Things } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { untilGone } from '../platform/gone.js';
import { notFound } from '../platform/refusals.js';
import { Asking, May, Tells } from '../platform/sign-in/guard.js';
import { SegmentsService } from './segments.service.js';
import { allSegments, segmentById, type SegmentWithPool } from './segments.store.js';

const line = (
  { id, name, description, pool, updatedAt }: SegmentWithPool,
  uses: readonly Use[] = [],
): SegmentLine => ({
  id,
  name,
  description,
  pool,
  updatedAt: updatedAt.toISOString(),
  uses: uses.map((use) => ({ id: use.id, name: use.name })),
});

@Controller('api/segments')
export class SegmentsController {
  constructor(
    private readonly segments: SegmentsService,
    private readonly things: Things,
    private readonly database: Database,
  ) {}

  @Get()
  @Tells('nobody')
  async list(): Promise<SegmentLine[]> {
    const segments = await allSegments(this.database.db);
    const uses = await this.segments.usesOf(segments.map(({ id }) => id));
    return segments.map((segment) => line(segment, uses.get(segment.id)));
  }

  @Post()
  @May('write letters')
  @Tells('nobody')
  async add(@Body() request: NewSegmentRequest): Promise<{ id: SegmentId; version: number }> {
    return { id: await this.segments.add(request), version: 1 };
  }

  @Post('sift')
  @HttpCode(200)
  @Tells('own people')
  sift(
    @Body() request: SiftRequest,
    @Asking() viewer: Viewer,
    @Res({ passthrough: true }) response: Response,
  ): Promise<SiftReply> {
    return this.segments.sift(request, viewer, untilGone(response));
  }

  @Post('strain')
  @HttpCode(200)
  @Tells('own people')
  strain(
    @Body() request: SiftRequest,
    @Asking() viewer: Viewer,
    @Res({ passthrough: true }) response: Response,
  ): Promise<StrainReply> {
    return this.segments.strain(request, viewer, untilGone(response));
  }

  @Post('why')
  @HttpCode(200)
  @Tells('own people')
  why(@Body() request: WhyRequest, @Asking() viewer: Viewer): Promise<WhyReply> {
    return this.segments.why(request, viewer);
  }

  /** The segments that somebody is in. */
  @Get('of/:person')
  @Tells('own people')
  ofPerson(@Param('person', ParseIntPipe) id: ContactId, @Asking() viewer: Viewer): Promise<Use[]> {
    return this.segments.ofPerson(id, viewer);
  }

  @Get(':id')
  @Tells('nobody')
  async one(@Param('id', ParseIntPipe) id: SegmentId): Promise<SegmentReply> {
    const segment = await segmentById(this.database.db, id);
    if (!segment) throw notFound('segment');
    return {
      ...line(segment, (await this.segments.usesOf([id])).get(id)),
      poolId: segment.poolId,
      version: segment.version,
      rule: segment.rule,
    };
  }

  @Put(':id')
  @May('write letters')
  @Tells('nobody')
  change(
    @Param('id', ParseIntPipe) id: SegmentId,
    @Body() request: SegmentRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ version: number }> {
    return this.segments.change(id, request, viewer);
  }

  @Delete(':id')
  @HttpCode(204)
  @May('write letters')
  @Tells('nobody')
  async remove(@Param('id', ParseIntPipe) id: SegmentId, @Asking() viewer: Viewer): Promise<void> {
    await this.things.remove('segment', id, viewer);
  }

  @Post(':id/restore')
  @HttpCode(204)
  @May('write letters')
  @Tells('nobody')
  async restore(@Param('id', ParseIntPipe) id: SegmentId): Promise<void> {
    await this.things.restore('segment', id);
  }
}
