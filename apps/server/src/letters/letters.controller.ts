import type { ContactId } from '@palabra/core/contacts';
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
  Query,
  Req,
  Res,
} from '@nestjs/common';
import {
  LetterRequest,
  NewLetterRequest,
  type LetterLine,
  type LetterReply,
  type LetterUse,
  type PictureReply,
  type PreviewReply,
} from '@palabra/contract/letters';
import { idOf } from '@palabra/core/kernel';
import { lineText, type LetterId } from '@palabra/core/letters';
import type { Viewer } from '@palabra/core/office';
import type { Request, Response } from 'express';
import { Things } from '../contacts/index.js';
import { Asking, May, Tells } from '../platform/sign-in/guard.js';
import { readBody } from '../platform/upload.js';
import { LettersService } from './letters.service.js';
import { refuse } from './letters.refusals.js';
import { sendLetter } from './send-letter.js';

const useOf = ({ id, name, waits }: LetterUse): LetterUse => ({ id, name, waits });

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
    private readonly things: Things,
  ) {}

  @Get('letters')
  @Tells('nobody')
  async list(): Promise<LetterLine[]> {
    const rows = await this.letters.all();
    const uses = await this.letters.usesOf(rows.map(({ id }) => id));
    return rows.map(({ id, name, subject, updated_at }) => ({
      id,
      name,
      subject,
      updatedAt: updated_at.toISOString(),
      uses: (uses.get(id) ?? []).map(useOf),
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
    const uses = (await this.letters.usesOf([id])).get(id) ?? [];
    return {
      id,
      name,
      version,
      content,
      updatedAt: updatedAt.toISOString(),
      uses: uses.map(useOf),
    };
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
  async remove(@Param('id', ParseIntPipe) id: LetterId, @Asking() viewer: Viewer): Promise<void> {
    await this.letters.remove(id, viewer);
  }

  @Post('letters/:id/restore')
  @HttpCode(204)
  @May('write letters')
  @Tells('nobody')
  async restore(@Param('id', ParseIntPipe) id: LetterId): Promise<void> {
    await this.things.restore('letter', id);
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
    sendLetter(response, html);
  }

  @Post('pictures')
  @May('write letters')
  @Tells('nobody')
  async addPicture(@Req() request: Request): Promise<PictureReply> {
    return this.letters.addPicture(Buffer.concat(await readBody(request, 21 * 1024 * 1024)));
  }
}
