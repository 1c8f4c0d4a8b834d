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
import {
  MergeTagRequest,
  TagChangeRequest,
  TagRequest,
  TellApartRequest,
  type ChangeReply,
  type TagCourse,
  type TagReply,
  type TagsReply,
} from '@palabra/contract/contacts';
import type { TagId } from '@palabra/core/contacts';
import { idOf } from '@palabra/core/kernel';
import type { Viewer } from '@palabra/core/office';
import { Asking, May, Tells } from '../../platform/sign-in/guard.js';
import { ChangesService } from '../changes/changes.service.js';
import { changeReply } from '../changes/changes.view.js';
import { tagReply } from '../vocabulary/vocabulary.controller.js';
import { TagsService } from './tags.service.js';

@Controller('api/tags')
export class TagsController {
  constructor(
    private readonly tags: TagsService,
    private readonly changes: ChangesService,
  ) {}

  @Get()
  @Tells('own people')
  list(@Asking() viewer: Viewer): Promise<TagsReply> {
    return this.tags.list(viewer);
  }

  /** How many people had each tag, over a year. */
  @Get('courses')
  @Tells('own people')
  courses(@Asking() viewer: Viewer): Promise<TagCourse[]> {
    return this.tags.courses(viewer);
  }

  @Post()
  @May('change people')
  @Tells('nobody')
  async add(@Body() request: TagRequest): Promise<TagReply> {
    return tagReply(await this.tags.add(request));
  }

  /** Two tags that look alike are two, or may be one after all. */
  @Put('apart')
  @HttpCode(204)
  @May('settings')
  @Tells('nobody')
  tellApart(@Body() request: TellApartRequest): Promise<void> {
    return this.tags.tellApart(request);
  }

  @Put(':id')
  @May('settings')
  @Tells('nobody')
  async change(
    @Param('id', ParseIntPipe) id: TagId,
    @Body() request: TagChangeRequest,
  ): Promise<TagReply & { version: number }> {
    const tag = await this.tags.change(id, request);
    return { ...tagReply(tag), version: tag.version };
  }

  @Post(':id/merge')
  @HttpCode(200)
  @May('settings')
  @Tells('own people')
  async merge(
    @Param('id', ParseIntPipe) id: TagId,
    @Body() { into }: MergeTagRequest,
    @Asking() viewer: Viewer,
  ): Promise<ChangeReply> {
    return this.begun(await this.tags.goes(id, idOf(into), viewer));
  }

  @Delete(':id')
  @HttpCode(200)
  @May('settings')
  @Tells('own people')
  async remove(
    @Param('id', ParseIntPipe) id: TagId,
    @Asking() viewer: Viewer,
  ): Promise<ChangeReply> {
    return this.begun(await this.tags.goes(id, undefined, viewer));
  }

  private async begun(set: Parameters<ChangesService['begin']>[0]): Promise<ChangeReply> {
    return changeReply(await this.changes.begin(set), null);
  }
}
