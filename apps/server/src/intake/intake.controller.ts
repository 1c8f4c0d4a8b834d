import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post, Query, Req, Res, Sse, type MessageEvent } from '@nestjs/common';
import { ReadingRequest, StartImportRequest, type ImportReply, type RefusedPage } from '@palabra/contract/intake';
import type { Viewer } from '@palabra/core/office';
import { stringify } from 'csv-stringify';
import type { Request, Response } from 'express';
import { distinctUntilChanged, from, map, switchMap, takeWhile, timer, type Observable } from 'rxjs';
import { Database } from '../platform/database.js';
import { Asking, May } from '../platform/sign-in/guard.js';
import { readBody } from '../platform/upload.js';
import { IMPORT_BYTES, IntakeService } from './intake.service.js';
import { refusedRows, type ImportLine } from './intake.store.js';

const iso = (at: Date | null): string | null => at?.toISOString() ?? null;

const reply = ({ row, by, undoing }: ImportLine): ImportReply => ({
  id: row.id,
  state: row.state,
  fileName: row.fileName,
  encoding: row.encoding,
  separator: row.separator,
  headers: row.headers,
  sample: row.sample,
  rows: row.rows,
  mapping: row.mapping,
  permission: row.permission,
  permissionSource: row.permissionSource,
  tagIds: row.tagIds,
  cursor: row.cursor,
  newCount: row.newCount,
  changedCount: row.changedCount,
  unchangedCount: row.unchangedCount,
  refusedCount: row.refusedCount,
  createdAt: row.createdAt.toISOString(),
  startedAt: iso(row.startedAt),
  finishedAt: iso(row.finishedAt),
  by,
  takenBack: undoing && { changeSet: undoing.id, count: undoing.count, leftAlone: undoing.leftAlone, isDone: undoing.finishedAt !== null },
});

const PAGE = 100;
const EVERY_MS = 500;

@Controller('api/imports')
export class IntakeController {
  constructor(
    private readonly intake: IntakeService,
    private readonly database: Database,
  ) {}

  @Get()
  async list(@Asking() viewer: Viewer): Promise<ImportReply[]> {
    return (await this.intake.imports(100, viewer)).map(reply);
  }

  /** The file is the body; its name stands in the query. */
  @Post()
  @May('change people')
  async upload(@Req() request: Request, @Query('name') name: string | undefined, @Asking() viewer: Viewer): Promise<{ id: number }> {
    return { id: await this.intake.upload(await readBody(request, IMPORT_BYTES), String(name ?? ''), viewer) };
  }

  @Get(':id')
  async one(@Param('id', ParseIntPipe) id: number, @Asking() viewer: Viewer): Promise<ImportReply> {
    return reply(await this.intake.import(id, viewer));
  }

  @Sse(':id/live')
  live(@Param('id', ParseIntPipe) id: number, @Asking() viewer: Viewer): Observable<MessageEvent> {
    return timer(0, EVERY_MS).pipe(
      switchMap(() => from(this.one(id, viewer))),
      map((row) => JSON.stringify(row)),
      distinctUntilChanged(),
      map((data): MessageEvent => ({ data })),
      takeWhile(({ data }) => /"state":"running"|"isDone":false/.test(String(data)), true),
    );
  }

  @Post(':id/reading')
  @HttpCode(204)
  @May('change people')
  readAgain(@Param('id', ParseIntPipe) id: number, @Body() request: ReadingRequest, @Asking() viewer: Viewer): Promise<void> {
    return this.intake.readAgain(id, request, viewer);
  }

  @Post(':id/start')
  @HttpCode(204)
  @May('change people')
  start(@Param('id', ParseIntPipe) id: number, @Body() request: StartImportRequest, @Asking() viewer: Viewer): Promise<void> {
    return this.intake.start(id, request, viewer);
  }

  @Post(':id/cancel')
  @HttpCode(204)
  @May('change people')
  cancel(@Param('id', ParseIntPipe) id: number, @Asking() viewer: Viewer): Promise<void> {
    return this.intake.cancel(id, viewer);
  }

  @Post(':id/take-back')
  @HttpCode(200)
  @May('change people')
  async takeBack(@Param('id', ParseIntPipe) id: number, @Asking() viewer: Viewer): Promise<ImportReply> {
    await this.intake.takeBack(id, viewer);
    return this.one(id, viewer);
  }

  @Get(':id/refused')
  async refused(@Param('id', ParseIntPipe) id: number, @Query('after', new ParseIntPipe({ optional: true })) after = 0, @Asking() viewer: Viewer): Promise<RefusedPage> {
    const { row } = await this.intake.import(id, viewer);
    return { rows: await refusedRows(this.database.db, id, after, PAGE), total: row.refusedCount };
  }

  /** The refused rows as they came, with their reason, to be mended and brought again. */
  @Get(':id/refused.csv')
  async refusedFile(@Param('id', ParseIntPipe) id: number, @Asking() viewer: Viewer, @Res() response: Response): Promise<void> {
    const { row } = await this.intake.import(id, viewer);
    response.setHeader('Content-Type', 'text/csv; charset=utf-8');
    response.setHeader('Content-Disposition', `attachment; filename="refused-rows-${id}.csv"`);
    const csv = stringify({ delimiter: row.separator, escape_formulas: true, bom: true });
    csv.pipe(response);
    csv.write([...row.headers, 'why it was refused']);
    for (let after = 0; ; ) {
      const rows = await refusedRows(this.database.db, id, after, 1000);
      const last = rows.at(-1);
      if (!last) break;
      for (const { cells, reason } of rows) csv.write([...row.headers.map((_, at) => cells[at] ?? ''), reason, ...cells.slice(row.headers.length)]);
      after = last.row;
    }
    csv.end();
  }
}
