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
} from '@nestjs/common';
import { NewViewRequest, ViewRequest, type ViewLine } from '@palabra/contract/segments';
import type { Viewer } from '@palabra/core/office';
import type { ViewId } from '@palabra/core/segments';
import { Asking, Tells } from '../platform/sign-in/guard.js';
import { ViewsService } from './views.service.js';

@Controller('api/views')
export class ViewsController {
  constructor(private readonly views: ViewsService) {}

  @Get()
  @Tells('nobody')
  list(@Asking() viewer: Viewer): Promise<ViewLine[]> {
    return this.views.list(viewer);
  }

  @Post()
  @Tells('nobody')
  add(
    @Body() request: NewViewRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ id: ViewId; version: number }> {
    return this.views.add(request, viewer);
  }

  /** Begins with no view from now on. */
  @Delete('start')
  @HttpCode(204)
  @Tells('nobody')
  beginPlain(@Asking() viewer: Viewer): Promise<void> {
    return this.views.begin(null, viewer);
  }

  @Put(':id')
  @Tells('nobody')
  change(
    @Param('id', ParseIntPipe) id: ViewId,
    @Body() request: ViewRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ version: number }> {
    return this.views.change(id, request, viewer);
  }

  /** Begins with this view from now on. */
  @Post(':id/start')
  @HttpCode(204)
  @Tells('nobody')
  begin(@Param('id', ParseIntPipe) id: ViewId, @Asking() viewer: Viewer): Promise<void> {
    return this.views.begin(id, viewer);
  }

  @Delete(':id')
  @HttpCode(204)
  @Tells('nobody')
  remove(@Param('id', ParseIntPipe) id: ViewId, @Asking() viewer: Viewer): Promise<void> {
    return this.views.setDeleted(id, true, viewer);
  }

  @Post(':id/restore')
  @HttpCode(204)
  @Tells('nobody')
  restore(@Param('id', ParseIntPipe) id: ViewId, @Asking() viewer: Viewer): Promise<void> {
    return this.views.setDeleted(id, false, viewer);
  }
}
