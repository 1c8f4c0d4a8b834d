import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  Patch,
  Post,
  Put,
  Query,
} from '@nestjs/common';
import {
  ContactRequest,
  DoNotMailRequest,
  NewContactRequest,
  OwnFieldRequest,
  PeopleFilter,
  PeopleQuery,
  PermissionRequest,
  TagRequest,
  TopicRequest,
  type PeoplePage,
  type PeopleSummary,
  type PersonReply,
  type PlaceReply,
  type TagReply,
  type TimelinePage,
  type TopicReply,
  type VocabularyReply,
} from '@palabra/contract/contacts';
import type { Field } from '@palabra/core/contacts';
import type { Viewer } from '@palabra/core/office';
import { Database } from '../platform/database.js';
import { Problem } from '../platform/problem.js';
import { Asking, May, Tells } from '../platform/sign-in/guard.js';
import { allUsers, userById } from '../platform/sign-in/sign-in.store.js';
import { ContactsService, writeCursor } from './contacts.service.js';
import { contactTagIds } from './contacts.store.js';
import { personReply, personRow, timelineEntry } from './contacts.view.js';
import { doNotMailEntry } from './do-not-mail.store.js';
import { timeline, type TimelineCursor } from './timeline.store.js';
import * as topics from './topics.store.js';
import * as vocabulary from './vocabulary.store.js';

const TIMELINE_PAGE = 50;

function readTimelineCursor(text: string): TimelineCursor {
  const [, moment = '', key = ''] = /^(\S{20,30}) ([a-z]\d{0,18})$/.exec(text) ?? [];
  const at = new Date(moment);
  if (Number.isNaN(at.getTime()))
    throw new Problem(400, 'This part of the timeline can’t be found.');
  return { at, key };
}

@Controller('api')
export class ContactsController {
  constructor(
    private readonly contacts: ContactsService,
    private readonly database: Database,
  ) {}

  @Get('people')
  @Tells('own people')
  async list(@Query() query: PeopleQuery, @Asking() viewer: Viewer): Promise<PeoplePage> {
    const { rows, next, previous, offset } = await this.contacts.list(query, viewer);
    return {
      rows: rows.map(personRow),
      offset,
      next: next && writeCursor(next),
      previous: previous && writeCursor(previous),
    };
  }

  @Get('people/summary')
  @Tells('own people')
  async summary(
    @Query() filter: PeopleFilter,
    @Asking() viewer: Viewer,
  ): Promise<Omit<PeopleSummary, 'tags'>> {
    const counts = await this.contacts.summary(filter, viewer);
    return {
      title: counts.title,
      total: counts.total,
      colleagues: counts.colleagues,
      deleted: counts.deleted,
      noAddress: counts.no_address,
      doNotMail: counts.do_not_mail,
      noPermission: counts.no_permission,
      mayBeMailed: counts.total - counts.no_address - counts.do_not_mail - counts.no_permission,
    };
  }

  @Get('people/tags')
  @Tells('own people')
  tagsAmong(
    @Query() filter: PeopleFilter,
    @Asking() viewer: Viewer,
  ): Promise<PeopleSummary['tags']> {
    return this.contacts.tagsAmong(filter, viewer);
  }

  @Post('people')
  @May('change people')
  @Tells('own people')
  async add(@Body() request: NewContactRequest, @Asking() viewer: Viewer): Promise<{ id: number }> {
    return { id: await this.contacts.add(request, viewer) };
  }

  @Get('people/:id')
  @Tells('own people')
  async person(
    @Param('id', ParseIntPipe) id: number,
    @Asking() viewer: Viewer,
  ): Promise<PersonReply> {
    const { db } = this.database;
    const row = await this.contacts.person(id, viewer);
    const pool = (await vocabulary.allPools(db)).find((one) => one.id === row.poolId);
    return personReply(row, await vocabulary.allFields(db), {
      tags: await contactTagIds(db, id),
      pool: pool?.name ?? '',
      owner: (await userById(db, row.ownerId))?.name ?? '',
      viewer,
      doNotMail: await doNotMailEntry(db, row.addressHash),
      droppedTopics: row.addressHash ? [...(await topics.droppedBy(db, row.addressHash))] : [],
    });
  }

  @Get('people/:id/place')
  @Tells('own people')
  place(
    @Param('id', ParseIntPipe) id: number,
    @Query() filter: PeopleFilter,
    @Asking() viewer: Viewer,
  ): Promise<PlaceReply> {
    return this.contacts.place(id, filter, viewer);
  }

  @Get('people/:id/timeline')
  @Tells('own people')
  async timeline(
    @Param('id', ParseIntPipe) id: number,
    @Query('before') before: string | undefined,
    @Asking() viewer: Viewer,
  ): Promise<TimelinePage> {
    await this.contacts.person(id, viewer);
    const from = before === undefined ? undefined : readTimelineCursor(String(before));
    const rows = await timeline(this.database.db, id, from, TIMELINE_PAGE);
    const last = rows.at(-1);
    const labels = new Map(
      (await vocabulary.allFields(this.database.db)).map((field) => [field.key, field.label]),
    );
    return {
      entries: rows.map((row) => timelineEntry(row, labels)),
      before: last && rows.length === TIMELINE_PAGE ? `${last.at.toISOString()} ${last.key}` : null,
    };
  }

  @Patch('people/:id')
  @May('change people')
  @Tells('own people')
  change(
    @Param('id', ParseIntPipe) id: number,
    @Body() request: ContactRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ changeSet: number | null }> {
    return this.contacts.change(id, request, viewer);
  }

  @Patch('people/:id/permission')
  @May('change people')
  @Tells('own people')
  changePermission(
    @Param('id', ParseIntPipe) id: number,
    @Body() request: PermissionRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ changeSet: number | null }> {
    return this.contacts.changePermission(id, request, viewer);
  }

  @Post('people/:id/do-not-mail')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  doNotMail(
    @Param('id', ParseIntPipe) id: number,
    @Body() request: DoNotMailRequest,
    @Asking() viewer: Viewer,
  ): Promise<void> {
    return this.contacts.setDoNotMail(id, request, viewer);
  }

  @Post('people/:id/try-again')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  tryAgain(@Param('id', ParseIntPipe) id: number, @Asking() viewer: Viewer): Promise<void> {
    return this.contacts.tryAgain(id, viewer);
  }

  @Get('vocabulary')
  @Tells('nobody')
  async vocabulary(): Promise<VocabularyReply> {
    const { db } = this.database;
    const tags = await vocabulary.allTags(db);
    return {
      tags: tags.map(tagReply),
      fields: await vocabulary.allFields(db),
      pools: await vocabulary.allPools(db),
      topics: (await topics.allTopics(db)).map(topicReply),
      owners: (await allUsers(db)).map(({ id, name }) => ({ key: String(id), label: name })),
    };
  }

  @Post('tags')
  @May('change people')
  @Tells('nobody')
  async addTag(@Body() request: TagRequest): Promise<TagReply> {
    return tagReply(await this.contacts.addTag(request));
  }

  @Post('topics')
  @May('settings')
  @Tells('nobody')
  async addTopic(@Body() request: TopicRequest): Promise<TopicReply> {
    return topicReply(await this.contacts.addTopic(request));
  }

  @Put('topics/:id')
  @May('settings')
  @Tells('nobody')
  async changeTopic(
    @Param('id', ParseIntPipe) id: number,
    @Body() request: TopicRequest,
  ): Promise<TopicReply> {
    return topicReply(await this.contacts.changeTopic(id, request));
  }

  @Post('fields')
  @May('change people')
  @Tells('nobody')
  addField(@Body() request: OwnFieldRequest): Promise<Field> {
    return this.contacts.addField(request);
  }
}

const topicReply = ({ id, name, description }: topics.Topic): TopicReply => ({
  id,
  name,
  description,
});
const tagReply = ({ id, name, colour, kind }: vocabulary.Tag): TagReply => ({
  id,
  name,
  colour,
  kind,
});
