import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { FilterRequest, type FilterReply } from '@palabra/contract/segments';
import type { Viewer } from '@palabra/core/office';
import { Asking, Tells } from '../platform/sign-in/guard.js';
import { FiltersService } from './filters.service.js';

@Controller('api/filters')
export class FiltersController {
  constructor(private readonly filters: FiltersService) {}

  @Post()
  @HttpCode(200)
  @Tells('nobody')
  keep(@Body() request: FilterRequest, @Asking() viewer: Viewer): Promise<FilterReply> {
    return this.filters.keep(request.rule, viewer);
  }

  @Get(':key')
  @Tells('nobody')
  one(@Param('key') key: string): Promise<FilterReply> {
    return this.filters.one(key);
  }
}
