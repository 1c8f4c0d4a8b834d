import type { ContactId } from '@palabra/core/contacts';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Inject,
  Param,
  ParseIntPipe,
  Post,
  Put,
  Query,
  Req,
  Res,
} from '@nestjs/common';
import {
  LetterRequest,
  NewLetterRequest,
  type LetterLine,
  type LetterReply,
  type PictureReply,
  type PreviewReply,
} from '@palabra/contract/letters';
import { idOf, type Clock } from '@palabra/core/kernel';
import { lineText, type LetterId } from '@palabra/core/letters';
import type { Viewer } from '@palabra/core/office';
import type { Request, Response } from 'express';
import { Database } from '../platform/database.js';
import { notFound } from '../platform/refusals.js';
import { Asking, May, Tells } from '../platform/sign-in/guard.js';
import { CLOCK } from '../platform/time.js';
import { readBody } from '../platform/upload.js';
import { LettersService } from './letters.service.js';
import { setLetterDeleted, subjectText } from './letters.store.js';
import { refuse } from './letters.refusals.js';

/** A letter in its frame may show pictures and its own styles, and nothing else. */
const PREVIEW_POLICY =
  "default-src 'none'; img-src 'self' data: http: https:; style-src 'unsafe-inline'; sandbox allow-popups; frame-ancestors 'self'";

function contactOf(as: string | undefined): ContactId | undefined {
  if (as === undefined || as === '') return undefined;
  const id = Number(as);
  if (!Number.isInteger(id) || id < 1 || id > 2 ** 31 - 1) throw refuse('no-such-reader');
  return idOf(id);
}

@Controller('api')
export class LettersController {
  constructor(
    private readonly letters: LettersService,
    private readonly database: Database,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  @Get('letters')
  @Tells('nobody')
  async list(): Promise<LetterLine[]> {
    return (await this.letters.all()).map((row) => ({
      id: row.id,
      name: row.name,
      subject: subjectText(row),
      updatedAt: row.updated_at.toISOString(),
      usedBy: row.used_by,
    }));
  }

  @Post('letters')
  @May('write letters')
  @Tells('nobody')
  async add(@Body() request: NewLetterRequest): Promise<{ id: LetterId }> {
    return { id: await this.letters.add(request) };
  }

  @Get('letters/:id')
  @Tells('nobody')
  async one(@Param('id', ParseIntPipe) id: LetterId): Promise<LetterReply> {
    const { name, version, content, updatedAt } = await this.letters.letter(id);
    return { id, name, version, content, updatedAt: updatedAt.toISOString() };
  }

  @Put('letters/:id')
  @May('write letters')
  @Tells('nobody')
  change(
    @Param('id', ParseIntPipe) id: LetterId,
    @Body() request: LetterRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ version: number }> {
    return this.letters.change(id, request, viewer);
  }

  @Delete('letters/:id')
  @HttpCode(204)
  @May('write letters')
  @Tells('nobody')
  async remove(@Param('id', ParseIntPipe) id: LetterId): Promise<void> {
    if (!(await setLetterDeleted(this.database.db, id, this.clock.now()))) throw notFound('letter');
  }

  @Post('letters/:id/restore')
  @HttpCode(204)
  @May('write letters')
  @Tells('nobody')
  async restore(@Param('id', ParseIntPipe) id: LetterId): Promise<void> {
    if (!(await setLetterDeleted(this.database.db, id, null))) throw notFound('letter');
  }

  @Get('letters/:id/preview')
  @Tells('own people')
  async preview(
    @Param('id', ParseIntPipe) id: LetterId,
    @Query('as') as: string | undefined,
    @Asking() viewer: Viewer,
  ): Promise<PreviewReply> {
    const letter = await this.letters.letter(id);
    const { subject, text, bytes } = await this.letters.preview(id, contactOf(as), viewer);
    return { subject, text, bytes, preview: lineText(letter.content.preview) };
  }

  @Get('letters/:id/preview.html')
  @Tells('own people')
  async previewHtml(
    @Param('id', ParseIntPipe) id: LetterId,
    @Query('as') as: string | undefined,
    @Asking() viewer: Viewer,
    @Res() response: Response,
  ): Promise<void> {
    const { html } = await this.letters.preview(id, contactOf(as), viewer);
    response.setHeader('Content-Security-Policy', PREVIEW_POLICY);
    response.setHeader('Cache-Control', 'no-store');
    response.type('html').send(html);
  }

  @Post('pictures')
  @May('write letters')
  @Tells('nobody')
  async addPicture(@Req() request: Request): Promise<PictureReply> {
    return this.letters.addPicture(Buffer.concat(await readBody(request, 21 * 1024 * 1024)));
  }
}
