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
} from '@nestjs/common';
import {
  NoteChangeRequest,
  NoteRequest,
  TaskChangeRequest,
  TaskDoneRequest,
  TaskRequest,
  TasksQuery,
  TasksRequest,
  type KeptReply,
  type NoteReply,
  type TaskCounts,
  type TaskReply,
  type TasksMade,
  type TasksPage,
  type ToldReply,
} from '@palabra/contract/notes';
import type { ContactId } from '@palabra/core/contacts';
import type { NoteId, TaskBatchId, TaskId } from '@palabra/core/notes';
import type { Viewer } from '@palabra/core/office';
import { PeopleService } from '../contacts/index.js';
import { Asking, May, Tells } from '../platform/sign-in/guard.js';
import { NotesService } from './notes.service.js';
import { TasksService } from './tasks.service.js';

@Controller('api')
export class NotesController {
  constructor(
    private readonly notes: NotesService,
    private readonly tasks: TasksService,
    private readonly people: PeopleService,
  ) {}

  /** Pinned notes and open tasks of a person. */
  @Get('people/:id/kept')
  @Tells('own people')
  async kept(
    @Param('id', ParseIntPipe) id: ContactId,
    @Asking() viewer: Viewer,
  ): Promise<KeptReply> {
    await this.people.person(id, viewer);
    return {
      pinned: await this.notes.pinned(id, viewer),
      tasks: await this.tasks.open(id, viewer),
    };
  }

  @Post('people/:id/notes')
  @May('change people')
  @Tells('own people')
  addNote(
    @Param('id', ParseIntPipe) id: ContactId,
    @Body() request: NoteRequest,
    @Asking() viewer: Viewer,
  ): Promise<NoteReply> {
    return this.notes.add(id, request, viewer);
  }

  /** Notes in which colleagues told the asker of somebody. */
  @Get('notes/told')
  @Tells('own people')
  told(@Asking() viewer: Viewer): Promise<ToldReply[]> {
    return this.notes.toldTo(viewer);
  }

  @Put('notes/:id')
  @May('change people')
  @Tells('own people')
  changeNote(
    @Param('id', ParseIntPipe) id: NoteId,
    @Body() request: NoteChangeRequest,
    @Asking() viewer: Viewer,
  ): Promise<NoteReply> {
    return this.notes.change(id, request, viewer);
  }

  @Post('notes/:id/seen')
  @HttpCode(204)
  @Tells('nobody')
  seeNote(@Param('id', ParseIntPipe) id: NoteId, @Asking() viewer: Viewer): Promise<void> {
    return this.notes.see(id, viewer);
  }

  @Delete('notes/:id')
  @HttpCode(204)
  @May('change people')
  @Tells('nobody')
  removeNote(@Param('id', ParseIntPipe) id: NoteId, @Asking() viewer: Viewer): Promise<void> {
    return this.notes.setDeleted(id, true, viewer);
  }

  @Post('notes/:id/restore')
  @HttpCode(204)
  @May('change people')
  @Tells('nobody')
  restoreNote(@Param('id', ParseIntPipe) id: NoteId, @Asking() viewer: Viewer): Promise<void> {
    return this.notes.setDeleted(id, false, viewer);
  }

  @Post('people/:id/tasks')
  @May('change people')
  @Tells('own people')
  addTask(
    @Param('id', ParseIntPipe) id: ContactId,
    @Body() request: TaskRequest,
    @Asking() viewer: Viewer,
  ): Promise<TaskReply> {
    return this.tasks.add(id, request, viewer);
  }

  @Get('tasks')
  @Tells('own people')
  list(@Query() query: TasksQuery, @Asking() viewer: Viewer): Promise<TasksPage> {
    return this.tasks.page(query, viewer);
  }

  @Get('tasks/counts/:whose')
  @Tells('own people')
  counts(@Param('whose') whose: string, @Asking() viewer: Viewer): Promise<TaskCounts> {
    return this.tasks.counts(whose === 'all' ? 'all' : 'mine', viewer);
  }

  /** A task for each of some people. */
  @Post('tasks/for-each')
  @May('change people')
  @Tells('own people')
  addForEach(@Body() request: TasksRequest, @Asking() viewer: Viewer): Promise<TasksMade> {
    return this.tasks.addForEach(request, viewer);
  }

  @Post('tasks/batches/:batch/undo')
  @HttpCode(200)
  @May('change people')
  @Tells('nobody')
  async dropBatch(
    @Param('batch', ParseIntPipe) batch: TaskBatchId,
    @Asking() viewer: Viewer,
  ): Promise<{ count: number }> {
    return { count: await this.tasks.dropBatch(batch, viewer) };
  }

  @Put('tasks/:id')
  @May('change people')
  @Tells('own people')
  changeTask(
    @Param('id', ParseIntPipe) id: TaskId,
    @Body() request: TaskChangeRequest,
    @Asking() viewer: Viewer,
  ): Promise<TaskReply> {
    return this.tasks.change(id, request, viewer);
  }

  @Post('tasks/:id/done')
  @HttpCode(200)
  @May('change people')
  @Tells('own people')
  setDone(
    @Param('id', ParseIntPipe) id: TaskId,
    @Body() { done }: TaskDoneRequest,
    @Asking() viewer: Viewer,
  ): Promise<TaskReply> {
    return this.tasks.setDone(id, done, viewer);
  }

  @Delete('tasks/:id')
  @HttpCode(204)
  @May('change people')
  @Tells('nobody')
  removeTask(@Param('id', ParseIntPipe) id: TaskId, @Asking() viewer: Viewer): Promise<void> {
    return this.tasks.setDeleted(id, true, viewer);
  }

  @Post('tasks/:id/restore')
  @HttpCode(204)
  @May('change people')
  @Tells('nobody')
  restoreTask(@Param('id', ParseIntPipe) id: TaskId, @Asking() viewer: Viewer): Promise<void> {
    return this.tasks.setDeleted(id, false, viewer);
  }
}
