import { Controller, Get, HttpCode, Param, ParseIntPipe, Post, Query } from '@nestjs/common';
import { BinQuery, type BinPage } from '@palabra/contract/contacts';
import type { ContactId } from '@palabra/core/contacts';
import type { Viewer } from '@palabra/core/office';
import { Asking, May, Tells } from '../../platform/sign-in/guard.js';
import { BinService } from './bin.service.js';

@Controller('api/bin')
export class BinController {
  constructor(private readonly bin: BinService) {}

  @Get()
  @Tells('own people')
  list(@Query() query: BinQuery, @Asking() viewer: Viewer): Promise<BinPage> {
    return this.bin.list(query, viewer);
  }

  @Post(':id/bring-back')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  bringBack(@Param('id', ParseIntPipe) id: ContactId, @Asking() viewer: Viewer): Promise<void> {
    return this.bin.bringBack(id, viewer);
  }
}
