import { type ImportId } from '@palabra/core/intake';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import {
  Body,
  Controller,
  Delete,
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
  type LeftoverReply,
  type RefusedPage,
  type TakingBackReply,
} from '@palabra/contract/intake';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import { stringify } from 'csv-stringify';
import type { Request, Response } from 'express';
import type { Observable } from 'rxjs';
import { Database } from '../platform/database.js';
import { readFile } from '../platform/files/files.store.js';
import { Asking, May, Tells, type SignedRequest } from '../platform/sign-in/guard.js';
import { Streams } from '../platform/streams.js';
import { readBody } from '../platform/upload.js';
import { IntakeService } from './intake.service.js';
import { rowsToLookAt, type ImportLine } from './intake.store.js';
import { Leftovers } from './leftovers.js';
import { reply } from './intake.view.js';
import { IMPORT_BYTES } from './tables.js';

const PAGE = 100;

/** A table that took the place of a workbook or of cards is no such file any more. */
const fileNameOf = ({ fileName, kind, originalId }: ImportLine['row']): string =>
  kind === 'text' || originalId !== null ? fileName : `${fileName}.csv`;

@Controller('api/imports')
export class IntakeController {
  constructor(
    private readonly intake: IntakeService,
    private readonly leftovers: Leftovers,
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
      ({ state, look, takenBack }) =>
        state === 'running' ||
        (state === 'uploaded' && !look.isCurrent) ||
        takenBack?.isDone === false,
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

  /** The file as it came. */
  @Get(':id/file')
  @Tells('own people')
  async file(
    @Param('id', ParseIntPipe) id: ImportId,
    @Asking() viewer: Viewer,
    @Res() response: Response,
  ): Promise<void> {
    const { row } = await this.intake.import(id, viewer);
    response.setHeader('Content-Type', 'application/octet-stream');
    response.setHeader('X-Content-Type-Options', 'nosniff');
    response.attachment(fileNameOf(row));
    await pipeline(
      Readable.from(readFile(this.database.db, row.originalId ?? row.fileId)),
      response,
    );
  }

  /** Throws a file away that was never brought in. */
  @Delete(':id')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  drop(@Param('id', ParseIntPipe) id: ImportId, @Asking() viewer: Viewer): Promise<void> {
    return this.intake.drop(id, viewer);
  }

  @Post(':id/restore')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  restore(@Param('id', ParseIntPipe) id: ImportId, @Asking() viewer: Viewer): Promise<void> {
    return this.intake.restore(id, viewer);
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

  /** What came with an import and nobody has, now that it was taken back. */
  @Get(':id/leftovers')
  @May('settings')
  @Tells('own people')
  async left(
    @Param('id', ParseIntPipe) id: ImportId,
    @Asking() viewer: Viewer,
  ): Promise<LeftoverReply> {
    return this.leftovers.of(await this.intake.import(id, viewer), viewer);
  }

  @Delete(':id/leftovers')
  @HttpCode(204)
  @May('settings')
  @Tells('own people')
  async takeLeft(@Param('id', ParseIntPipe) id: ImportId, @Asking() viewer: Viewer): Promise<void> {
    await this.leftovers.takeOut(await this.intake.import(id, viewer), viewer);
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
