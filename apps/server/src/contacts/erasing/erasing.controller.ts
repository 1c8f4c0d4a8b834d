import { Controller, Get, HttpCode, Inject, Param, ParseIntPipe, Post, Res } from '@nestjs/common';
import type { ErasingReply, ErasureReply } from '@palabra/contract/contacts';
import type { ContactId } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { dayIn, type Viewer } from '@palabra/core/office';
import type { Response } from 'express';
import { theOffice } from '../../office/index.js';
import { Database } from '../../platform/database.js';
import { Asking, May, Tells } from '../../platform/sign-in/guard.js';
import { CLOCK } from '../../platform/time.js';
import { ErasingService } from './erasing.service.js';
import { heldPage } from './held-page.js';

@Controller('api/people/:id')
export class ErasingController {
  constructor(
    private readonly erasing: ErasingService,
    private readonly database: Database,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  /** Everything that is held about somebody, as one file. */
  @Get('held')
  @May('erase people')
  @Tells('own people')
  async held(@Param('id', ParseIntPipe) id: ContactId, @Res() response: Response): Promise<void> {
    const office = await theOffice(this.database.db);
    const { name, places } = await this.erasing.held(id);
    const at = this.clock.now();
    response.setHeader('Content-Type', 'text/html; charset=utf-8');
    response.setHeader('Cache-Control', 'no-store');
    response.setHeader('Content-Security-Policy', "default-src 'none'; style-src 'unsafe-inline'");
    response.setHeader(
      'Content-Disposition',
      `attachment; filename="held-${id}-${dayIn(office.timeZone, at)}.html"`,
    );
    response.send(heldPage({ office: office.name, timeZone: office.timeZone, name, at, places }));
  }

  /** What would go if this person were erased. */
  @Get('erasing')
  @May('erase people')
  @Tells('own people')
  look(@Param('id', ParseIntPipe) id: ContactId): Promise<ErasingReply> {
    return this.erasing.look(id);
  }

  @Post('erase')
  @HttpCode(204)
  @May('erase people')
  @Tells('own people')
  erase(@Param('id', ParseIntPipe) id: ContactId, @Asking() viewer: Viewer): Promise<void> {
    return this.erasing.erase(id, viewer);
  }

  /** When and by whom somebody was erased. */
  @Get('erasure')
  @Tells('own people')
  erasure(
    @Param('id', ParseIntPipe) id: ContactId,
    @Asking() viewer: Viewer,
  ): Promise<ErasureReply> {
    return this.erasing.erasure(id, viewer);
  }
}
