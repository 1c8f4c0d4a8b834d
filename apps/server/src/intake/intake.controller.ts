import type { ImportId } from '@palabra/core/intake';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  Post,
  Query,
  Req,
  Res,
  Sse,
  type MessageEvent,
} from '@nestjs/common';
import {
  ReadingRequest,
  StartImportRequest,
  type ImportReply,
  type RefusedPage,
  type TakingBackReply,
} from '@palabra/contract/intake';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import { stringify } from 'csv-stringify';
import type { Request, Response } from 'express';
import type { Observable } from 'rxjs';
import { Database } from '../platform/database.js';
import { Asking, May, Tells, type SignedRequest } from '../platform/sign-in/guard.js';
import { Streams } from '../platform/streams.js';
import { readBody } from '../platform/upload.js';
import { IMPORT_BYTES, IntakeService } from './intake.service.js';
import { rowsToLookAt, type ImportLine } from './intake.store.js';

const iso = (at: Date | null): string | null => at?.toISOString() ?? null;

/** To a member a row of a colleague's person looks like any other: what is known here is not for them to find out. */
const reply = ({ row, by, undoing }: ImportLine, viewer: Viewer): ImportReply => ({
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
  mapping: row.mapping,
  permission: row.permission,
  permissionSource: row.permissionSource,
  permissionWording: row.permissionWording,
  tagIds: row.tagIds,
  cursor: row.cursor,
  newCount: row.newCount + (seesEverybody(viewer.role) ? 0 : row.elsewhereCount),
  changedCount: row.changedCount,
  unchangedCount: row.unchangedCount,
  refusedCount: row.refusedCount,
  elsewhereCount: seesEverybody(viewer.role) ? row.elsewhereCount : 0,
  againCount: row.againCount,
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

const PAGE = 100;

@Controller('api/imports')
export class IntakeController {
  constructor(
    private readonly intake: IntakeService,
    private readonly streams: Streams,
    private readonly database: Database,
  ) {}

  @Get()
  @Tells('own people')
  async list(@Asking() viewer: Viewer): Promise<ImportReply[]> {
    return (await this.intake.imports(100, viewer)).map((line) => reply(line, viewer));
  }

  /** The file is the body; its name stands in the query. */
  @Post()
  @May('change people')
  @Tells('own people')
  async upload(
    @Req() request: Request,
    @Query('name') name: string | undefined,
    @Asking() viewer: Viewer,
  ): Promise<{ id: ImportId }> {
    return {
      id: await this.intake.upload(
        await readBody(request, IMPORT_BYTES),
        String(name ?? ''),
        viewer,
      ),
    };
  }

  @Get(':id')
  @Tells('own people')
  async one(
    @Param('id', ParseIntPipe) id: ImportId,
    @Asking() viewer: Viewer,
  ): Promise<ImportReply> {
    return reply(await this.intake.import(id, viewer), viewer);
  }

  @Sse(':id/live')
  @Tells('own people')
  async live(
    @Param('id', ParseIntPipe) id: ImportId,
    @Req() request: SignedRequest,
    @Asking() viewer: Viewer,
  ): Promise<Observable<MessageEvent>> {
    await this.intake.import(id, viewer);
    const whose = seesEverybody(viewer.role) ? '' : ` for ${viewer.userId}`;
    return this.streams.watch(
      request,
      `import ${id}${whose}`,
      () => this.one(id, viewer),
      ({ state, takenBack }) => state === 'running' || takenBack?.isDone === false,
    );
  }

  @Post(':id/reading')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  readAgain(
    @Param('id', ParseIntPipe) id: ImportId,
    @Body() request: ReadingRequest,
    @Asking() viewer: Viewer,
  ): Promise<void> {
    return this.intake.readAgain(id, request, viewer);
  }

  @Post(':id/start')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  start(
    @Param('id', ParseIntPipe) id: ImportId,
    @Body() request: StartImportRequest,
    @Asking() viewer: Viewer,
  ): Promise<void> {
    return this.intake.start(id, request, viewer);
  }

  @Post(':id/cancel')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  cancel(@Param('id', ParseIntPipe) id: ImportId, @Asking() viewer: Viewer): Promise<void> {
    return this.intake.cancel(id, viewer);
  }

  /** What taking it back would do, said before it is done. */
  @Get(':id/take-back')
  @Tells('own people')
  takingBack(
    @Param('id', ParseIntPipe) id: ImportId,
    @Asking() viewer: Viewer,
  ): Promise<TakingBackReply> {
    return this.intake.takingBack(id, viewer);
  }

  @Post(':id/take-back')
  @HttpCode(200)
  @May('change people')
  @Tells('own people')
  async takeBack(
    @Param('id', ParseIntPipe) id: ImportId,
    @Asking() viewer: Viewer,
  ): Promise<ImportReply> {
    await this.intake.takeBack(id, viewer);
    return this.one(id, viewer);
  }

  @Get(':id/refused')
  @Tells('own people')
  async refused(
    @Param('id', ParseIntPipe) id: ImportId,
    @Query('after', new ParseIntPipe({ optional: true })) after = 0,
    @Asking() viewer: Viewer,
  ): Promise<RefusedPage> {
    const { row } = await this.intake.import(id, viewer);
    const rows = await rowsToLookAt(this.database.db, id, after, PAGE);
    return {
      rows: rows.map(({ is_in, ...one }) => ({ ...one, isIn: is_in })),
      total: row.refusedCount + row.doubtedCount,
    };
  }

  /** The rows with something wrong as they came, with their reason, to be mended and brought again. */
  @Get(':id/refused.csv')
  @Tells('own people')
  async refusedFile(
    @Param('id', ParseIntPipe) id: ImportId,
    @Asking() viewer: Viewer,
    @Res() response: Response,
  ): Promise<void> {
    const { row } = await this.intake.import(id, viewer);
    response.setHeader('Content-Type', 'text/csv; charset=utf-8');
    response.setHeader('Content-Disposition', `attachment; filename="refused-rows-${id}.csv"`);
    const csv = stringify({ delimiter: row.separator, escape_formulas: true, bom: true });
    await pipeline(Readable.from(this.intake.refusedLines(row)), csv, response);
  }
}
