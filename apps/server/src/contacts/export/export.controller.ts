import { Body, Controller, HttpCode, Post, Res } from '@nestjs/common';
import { ExportRequest } from '@palabra/contract/contacts';
import type { Viewer } from '@palabra/core/office';
import type { Response } from 'express';
import { untilGone } from '../../platform/gone.js';
import { Asking, May, Tells } from '../../platform/sign-in/guard.js';
import { ExportService } from './export.service.js';
import { formats } from './formats.js';

@Controller('api/people')
export class ExportController {
  constructor(private readonly exporting: ExportService) {}

  @Post('export')
  @HttpCode(200)
  @May('change people')
  @Tells('own people')
  async take(
    @Body() request: ExportRequest,
    @Asking() viewer: Viewer,
    @Res() response: Response,
  ): Promise<void> {
    const { head, people } = await this.exporting.begin(request, viewer, untilGone(response));
    const { type, write } = formats[request.format];
    response.setHeader('Content-Type', type);
    response.setHeader('Content-Disposition', `attachment; filename="contacts.${request.format}"`);
    try {
      await write(head, people, response);
    } catch (error) {
      // Whoever asked has gone; anything else is told.
      if (!response.destroyed || response.writableEnded) throw error;
    }
  }
}
