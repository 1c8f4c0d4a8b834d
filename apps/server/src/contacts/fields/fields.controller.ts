import { Body, Controller, Delete, Get, HttpCode, Param, Post, Put } from '@nestjs/common';
import {
  FieldKindRequest,
  FieldOrderRequest,
  FieldRequest,
  FieldTypeRequest,
  OwnFieldRequest,
  type ChangeReply,
  type FieldFitReply,
  type FieldReply,
  type FieldUsesReply,
} from '@palabra/contract/contacts';
import type { Field } from '@palabra/core/contacts';
import type { Viewer } from '@palabra/core/office';
import { Asking, May, Tells } from '../../platform/sign-in/guard.js';
import { ChangesService } from '../changes/changes.service.js';
import { changeReply } from '../changes/changes.view.js';
import { FieldsService } from './fields.service.js';
import type { Defined } from './fields.store.js';

@Controller('api/fields')
export class FieldsController {
  constructor(
    private readonly fields: FieldsService,
    private readonly changes: ChangesService,
  ) {}

  /** What the office defines, in its order. */
  @Get()
  @Tells('nobody')
  async all(): Promise<FieldReply[]> {
    return (await this.fields.defined()).map(fieldReply);
  }

  @Post()
  @May('change people')
  @Tells('nobody')
  add(@Body() request: OwnFieldRequest): Promise<Field> {
    return this.fields.add(request);
  }

  @Put('order')
  @HttpCode(204)
  @May('settings')
  @Tells('nobody')
  async order(@Body() { keys }: FieldOrderRequest): Promise<void> {
    await this.fields.order(keys);
  }

  @Put(':key')
  @May('settings')
  @Tells('nobody')
  async change(@Param('key') key: string, @Body() request: FieldRequest): Promise<FieldReply> {
    return fieldReply(await this.fields.change(key, request));
  }

  /** Where it is used, before it is taken away. */
  @Get(':key/uses')
  @May('settings')
  @Tells('own people')
  uses(@Param('key') key: string, @Asking() viewer: Viewer): Promise<FieldUsesReply> {
    return this.fields.usesOf(key, viewer);
  }

  @Delete(':key')
  @HttpCode(204)
  @May('settings')
  @Tells('nobody')
  async remove(@Param('key') key: string, @Asking() viewer: Viewer): Promise<void> {
    await this.fields.remove(key, viewer);
  }

  @Post(':key/restore')
  @HttpCode(204)
  @May('settings')
  @Tells('nobody')
  async restore(@Param('key') key: string): Promise<void> {
    await this.fields.restore(key);
  }

  /** What would become of what is kept, if it were of another type. */
  @Post(':key/fit')
  @HttpCode(200)
  @May('settings')
  @Tells('own people')
  fit(@Param('key') key: string, @Body() request: FieldKindRequest): Promise<FieldFitReply> {
    return this.fields.fit(key, request);
  }

  @Put(':key/type')
  @May('settings')
  @Tells('own people')
  async changeType(
    @Param('key') key: string,
    @Body() request: FieldTypeRequest,
    @Asking() viewer: Viewer,
  ): Promise<ChangeReply> {
    return changeReply(
      await this.changes.begin(await this.fields.changeType(key, request, viewer)),
      null,
    );
  }
}

const fieldReply = ({ field, version }: Defined): FieldReply => ({ field, version });
