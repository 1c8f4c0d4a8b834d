import { formatFieldValue, isText, type ChangeSetId, type ContactId } from '@palabra/core/contacts';
import { idOf } from '@palabra/core/kernel';
import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  Patch,
  Post,
  Query,
} from '@nestjs/common';
import {
  ContactRequest,
  NewContactRequest,
  PeopleFilter,
  PeopleQuery,
  PeopleSelection,
  PermissionRequest,
  SortedFilter,
  TimelineQuery,
  type CountReply,
  type WhichReply,
  type OccurringValue,
  type PeoplePage,
  type PeopleSummary,
  type PersonReply,
  type PlaceReply,
  type TimelinePage,
} from '@palabra/contract/contacts';
import type { Viewer } from '@palabra/core/office';
import { Database } from '../../platform/database.js';
import { Asking, May, Tells } from '../../platform/sign-in/guard.js';
import { userById } from '../../platform/sign-in/sign-in.store.js';
import { keptOf } from '../changes/changes.store.js';
import { notFound } from '../../platform/refusals.js';
import { refuse } from '../contacts.refusals.js';
import { doNotMailEntry } from '../standing/do-not-mail.store.js';
import { droppedBy } from '../standing/dropped-topics.store.js';
import { allFields } from '../fields/fields.store.js';
import { VocabularyService } from '../vocabulary/vocabulary.service.js';
import { allPools, tagNames } from '../vocabulary/vocabulary.store.js';
import { PeopleService } from './people.service.js';
import { personReply, personRow, timelineEntry } from './people.view.js';
import { occurring } from './people.store.js';
import { scope } from './scope.store.js';
import { automaticTagIds } from './automatic.store.js';
import { contactTagIds } from './person.store.js';
import { Timeline } from './timeline.js';
import type { TimelineCursor } from './timeline.store.js';

const TIMELINE_PAGE = 50;
/** What names one person occurs once. */
const PERSONAL: ReadonlySet<string> = new Set([
  'address',
  'given_name',
  'family_name',
  'street',
  'phone',
  'more_phones',
  'more_addresses',
  'external_number',
]);
const OCCURRING = 200;

function readTimelineCursor(text: string): TimelineCursor {
  const [, moment = '', key = '~'] = /^(\S{20,30})(?: ([a-z]\d{0,18}))?$/.exec(text) ?? [];
  const at = new Date(moment);
  if (Number.isNaN(at.getTime())) throw refuse('no-such-moment');
  return { at, key };
}

@Controller('api')
export class PeopleController {
  constructor(
    private readonly people: PeopleService,
    private readonly happened: Timeline,
    private readonly vocabulary: VocabularyService,
    private readonly database: Database,
  ) {}

  @Get('people')
  @Tells('own people')
  async list(@Query() query: PeopleQuery, @Asking() viewer: Viewer): Promise<PeoplePage> {
    return { rows: (await this.people.list(query, viewer)).map(personRow) };
  }

  @Get('people/summary')
  @Tells('own people')
  async summary(
    @Query() filter: PeopleFilter,
    @Asking() viewer: Viewer,
  ): Promise<Omit<PeopleSummary, 'tags'>> {
    const counts = await this.people.summary(filter, viewer);
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

  /** How many of some people a filter finds. */
  @Post('people/among')
  @HttpCode(200)
  @Tells('own people')
  async among(@Body() selection: PeopleSelection, @Asking() viewer: Viewer): Promise<CountReply> {
    return { count: await this.people.countAmong(selection, viewer) };
  }

  /** Which of some people are in a filter. */
  @Post('people/which')
  @HttpCode(200)
  @Tells('own people')
  async which(@Body() selection: PeopleSelection, @Asking() viewer: Viewer): Promise<WhichReply> {
    return { ids: await this.people.whoAmong(selection, viewer) };
  }

  @Get('people/tags')
  @Tells('own people')
  tagsAmong(
    @Query() filter: PeopleFilter,
    @Asking() viewer: Viewer,
  ): Promise<PeopleSummary['tags']> {
    return this.people.tagsAmong(filter, viewer);
  }

  /** What occurs in a field of texts or choices among the asker's people, the most frequent first. */
  @Get('fields/:key/values')
  @Tells('own people')
  async occurring(@Param('key') key: string, @Asking() viewer: Viewer): Promise<OccurringValue[]> {
    const { db } = this.database;
    const field = (await allFields(db)).find((one) => one.key === key);
    if (!field) throw notFound('field');
    if (PERSONAL.has(key) || field.type === 'long text') return [];
    if (!isText(field) && field.type !== 'choice' && field.type !== 'choices') return [];
    const found = await occurring(db, field, scope(viewer), OCCURRING);
    return field.choices
      ? found.map(({ value, count }) => ({ value: formatFieldValue(field, value), count }))
      : found;
  }

  @Post('people')
  @May('change people')
  @Tells('own people')
  async add(
    @Body() request: NewContactRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ id: ContactId }> {
    return { id: await this.people.add(request, viewer) };
  }

  @Get('people/:id')
  @Tells('own people')
  async person(
    @Param('id', ParseIntPipe) id: ContactId,
    @Asking() viewer: Viewer,
  ): Promise<PersonReply> {
    const { db } = this.database;
    const row = await this.people.person(id, viewer);
    const pool = (await allPools(db)).find((one) => one.id === row.poolId);
    return personReply(row, await allFields(db), {
      tags: [...(await contactTagIds(db, id)), ...(await automaticTagIds(db, id))],
      pool: pool?.name ?? '',
      owner: (await userById(db, row.ownerId))?.name ?? '',
      viewer,
      today: await this.vocabulary.today(),
      doNotMail: await doNotMailEntry(db, row.addressHash),
      droppedTopics: row.addressHash ? [...(await droppedBy(db, row.addressHash))] : [],
    });
  }

  @Get('people/:id/place')
  @Tells('own people')
  place(
    @Param('id', ParseIntPipe) id: ContactId,
    @Query() filter: SortedFilter,
    @Asking() viewer: Viewer,
  ): Promise<PlaceReply> {
    return this.people.place(id, filter, viewer);
  }

  @Get('people/:id/timeline')
  @Tells('own people')
  async timeline(
    @Param('id', ParseIntPipe) id: ContactId,
    @Query() { before, part }: TimelineQuery,
    @Asking() viewer: Viewer,
  ): Promise<TimelinePage> {
    await this.people.person(id, viewer);
    const from = before === undefined ? undefined : readTimelineCursor(before);
    const rows = await this.happened.of(this.database.db, id, part, from, TIMELINE_PAGE, viewer);
    const last = rows.at(-1);
    const words = {
      fields: new Map((await allFields(this.database.db)).map((one) => [one.key, one])),
      tags: await tagNames(this.database.db),
    };
    const setOf = (key: string): ChangeSetId => idOf(Number(key.slice(1)));
    const kept = await keptOf(
      this.database.db,
      id,
      rows.filter(({ kind }) => kind === 'changed').map(({ key }) => setOf(key)),
    );
    return {
      entries: rows.map((row) => timelineEntry(row, words, kept.get(setOf(row.key)))),
      before: last && rows.length === TIMELINE_PAGE ? `${last.at.toISOString()} ${last.key}` : null,
    };
  }

  @Patch('people/:id')
  @May('change people')
  @Tells('own people')
  change(
    @Param('id', ParseIntPipe) id: ContactId,
    @Body() request: ContactRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ changeSet: number | null; version: number }> {
    return this.people.change(id, request, viewer);
  }

  @Patch('people/:id/permission')
  @May('change people')
  @Tells('own people')
  changePermission(
    @Param('id', ParseIntPipe) id: ContactId,
    @Body() request: PermissionRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ changeSet: number | null; version: number }> {
    return this.people.changePermission(id, request, viewer);
  }
}
