import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post, Query, Req, Res, Sse, type MessageEvent } from '@nestjs/common';
import { ReadingRequest, StartImportRequest, type ImportReply, type RefusedPage } from '@palabra/contract/intake';
import type { Viewer } from '@palabra/core/office';
import { stringify } from 'csv-stringify';
import type { Request, Response } from 'express';
import { distinctUntilChanged, from, map, switchMap, takeWhile, timer, type Observable } from 'rxjs';
import { Database } from '../platform/database.js';
import { Asking, May } from '../platform/sign-in/guard.js';
import { userById } from '../platform/sign-in/sign-in.store.js';
import { readBody } from '../platform/upload.js';
import { IMPORT_BYTES, IntakeService } from './intake.service.js';
import { lastImports, refusedRows, type Import } from './intake.store.js';

const iso = (at: Date | null): string | null => at?.toISOString() ?? null;

const reply = (row: Import, by: string): ImportReply => ({
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
  async list(): Promise<ImportReply[]> {
    return (await lastImports(this.database.db, 100)).map(({ row, by }) => reply(row, by));
  }

  /** The file is the body; its name stands in the query. */
  @Post()
  @May('change people')
  async upload(@Req() request: Request, @Query('name') name: string | undefined, @Asking() viewer: Viewer): Promise<{ id: number }> {
    return { id: await this.intake.upload(await readBody(request, IMPORT_BYTES), String(name ?? ''), viewer) };
  }

  @Get(':id')
  async one(@Param('id', ParseIntPipe) id: number): Promise<ImportReply> {
    const row = await this.intake.import(id);
    return reply(row, (await userById(this.database.db, row.userId))?.name ?? '');
  }

  @Sse(':id/live')
  live(@Param('id', ParseIntPipe) id: number): Observable<MessageEvent> {
    return timer(0, EVERY_MS).pipe(
      switchMap(() => from(this.one(id))),
      map((row) => JSON.stringify(row)),
      distinctUntilChanged(),
      map((data): MessageEvent => ({ data })),
      takeWhile(({ data }) => String(data).includes('"state":"running"'), true),
    );
  }

  @Post(':id/reading')
  @HttpCode(204)
  @May('change people')
  readAgain(@Param('id', ParseIntPipe) id: number, @Body() request: ReadingRequest): Promise<void> {
    return this.intake.readAgain(id, request);
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
  cancel(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.intake.cancel(id);
  }

  @Post(':id/take-back')
  @HttpCode(200)
  @May('change people')
  takeBack(@Param('id', ParseIntPipe) id: number, @Asking() viewer: Viewer): Promise<{ count: number; leftAlone: number }> {
    return this.intake.takeBack(id, viewer);
  }

  @Get(':id/refused')
  async refused(@Param('id', ParseIntPipe) id: number, @Query('after', new ParseIntPipe({ optional: true })) after = 0): Promise<RefusedPage> {
    const row = await this.intake.import(id);
    return { rows: await refusedRows(this.database.db, id, after, PAGE), total: row.refusedCount };
  }

  /** The refused rows as they came, with their reason, to be mended and brought again. */
  @Get(':id/refused.csv')
  async refusedFile(@Param('id', ParseIntPipe) id: number, @Res() response: Response): Promise<void> {
    const row = await this.intake.import(id);
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
