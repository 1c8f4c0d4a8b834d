import { whyLeft, type ChangeSetId, type TagId } from '@palabra/core/contacts';
import { Inject, Module, type OnModuleInit } from '@nestjs/common';
import { idOf, type Clock } from '@palabra/core/kernel';
import { seesEverybody } from '@palabra/core/office';
import { OfficeModule, OfficeService } from '../office/index.js';
import { Database } from '../platform/database.js';
import { userById } from '../platform/sign-in/sign-in.store.js';
import { CLOCK } from '../platform/time.js';
import { Upkeep } from '../platform/upkeep.js';
import { ChangesController } from './changes/changes.controller.js';
import { ChangesService } from './changes/changes.service.js';
import { changedBy, changeSetById, forgetItems, leftAloneBy } from './changes/changes.store.js';
import { BinController } from './bin/bin.controller.js';
import { BinService } from './bin/bin.service.js';
import { ExportController } from './export/export.controller.js';
import { ExportService } from './export/export.service.js';
import { ErasingController } from './erasing/erasing.controller.js';
import { ErasingService } from './erasing/erasing.service.js';
import { OwnPlaces } from './erasing/own-places.js';
import { PersonalPlaces } from './erasing/places.js';
import { DeedWork } from './changes/deeds.js';
import { FieldsController } from './fields/fields.controller.js';
import { FieldsService } from './fields/fields.service.js';
import { FieldUses } from './fields/uses.js';
import { TagsController } from './tags/tags.controller.js';
import { TagsService } from './tags/tags.service.js';
import { TagUses } from './tags/uses.js';
import { Things } from './changes/things.js';
import { RatedLetters } from './ratings/letters.js';
import { RatingsController } from './ratings/ratings.controller.js';
import { RatingsService } from './ratings/ratings.service.js';
import { Orders } from './people/orders.js';
import { PeopleSets } from './people/people-sets.js';
import { PeopleController } from './people/people.controller.js';
import { PeopleService } from './people/people.service.js';
import { allOf, inPool, notIn, refusedOften, tagged } from './people/people.store.js';
import { owned } from './people/scope.store.js';
import { Ties } from './people/ties.js';
import { Timeline } from './people/timeline.js';
import { PeopleWriter } from './people/writer.js';
import { PlacesController } from './places/places.controller.js';
import { KeyingService } from './keying/keying.service.js';
import { PlacesService } from './places/places.service.js';
import { StandingController } from './standing/standing.controller.js';
import { StandingService } from './standing/standing.service.js';
import { VocabularyController } from './vocabulary/vocabulary.controller.js';
import { VocabularyService } from './vocabulary/vocabulary.service.js';
import { addPool, tagById } from './vocabulary/vocabulary.store.js';

/** How long a change can be taken back, in days. */
const UNDO_DAYS = 30;
const FORGET = 2000;

@Module({
  imports: [OfficeModule],
  controllers: [
    BinController,
    ErasingController,
    ExportController,
    FieldsController,
    TagsController,
    RatingsController,
    PeopleController,
    VocabularyController,
    StandingController,
    PlacesController,
    ChangesController,
  ],
  providers: [
    PeopleService,
    Orders,
    PeopleWriter,
    PeopleSets,
    Ties,
    Timeline,
    Things,
    DeedWork,
    FieldsService,
    FieldUses,
    TagUses,
    TagsService,
    RatedLetters,
    RatingsService,
    BinService,
    ErasingService,
    OwnPlaces,
    PersonalPlaces,
    ExportService,
    ChangesService,
    VocabularyService,
    StandingService,
    PlacesService,
    KeyingService,
  ],
  exports: [
    FieldsService,
    TagsService,
    PeopleService,
    PeopleWriter,
    PeopleSets,
    Ties,
    Timeline,
    Things,
    FieldUses,
    TagUses,
    RatedLetters,
    PersonalPlaces,
    ChangesService,
    VocabularyService,
  ],
})
export class ContactsModule implements OnModuleInit {
  constructor(
    private readonly sets: PeopleSets,
    private readonly database: Database,
    private readonly upkeep: Upkeep,
    private readonly office: OfficeService,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.office.whenSetUp(async (tx) => {
      await addPool(tx, 'house', 'house');
    });
    // Whatever a rule asks, it looks at everybody.
    this.upkeep.keepPacked('contacts');
    this.upkeep.register(
      async () =>
        (await forgetItems(
          this.database.db,
          new Date(this.clock.now().getTime() - UNDO_DAYS * 24 * 3600_000),
          FORGET,
        )) === FORGET,
    );
    this.sets.register<ChangeSetId>('change', 'of whoever asks', async ({ id, part }, viewer) => {
      const set = await changeSetById(this.database.db, id);
      if (set && !seesEverybody(viewer.role) && set.userId !== viewer.userId) return undefined;
      if (!set || part === '')
        return set && { title: set.what, among: changedBy(id), isRecord: true };
      if (set.undoes !== null)
        return {
          title: `left alone, because they changed again: ${set.what}`,
          among: leftAloneBy(id, set.undoes),
          isRecord: true,
        };
      if (!set.todo || !('deed' in set.todo)) return undefined;
      const { deed, people } = set.todo;
      // As whoever did it saw them: they left alone what was not theirs.
      const doer = set.userId === null ? undefined : await userById(this.database.db, set.userId);
      const asDoer = doer ? { userId: doer.id, role: doer.role } : viewer;
      const meant = await this.sets.meant(people, asDoer);
      return {
        title: `left as they are, because ${whyLeft(deed)}: ${set.what}`,
        among: allOf(meant, deed.kind === 'pool' ? notIn(inPool(deed.pool)) : notIn(owned(asDoer))),
      };
    });
    // `refused.N`: people who were refused at least so often in a row.
    this.sets.register('refused', 'of whoever asks', ({ id: times, part }) =>
      Promise.resolve(
        part === ''
          ? {
              title: `refused ${times} times or more in a row, for reasons nobody could read`,
              among: refusedOften(times),
            }
          : undefined,
      ),
    );
    // `tag.4`, who has another tag as well (`tag.4.and-7`), or has not (`tag.4.without-7`).
    this.sets.register<TagId>('tag', 'of whoever asks', async ({ id, part }) => {
      const tag = await tagById(this.database.db, id);
      if (!tag) return undefined;
      if (part === '') return { title: `tagged “${tag.name}”`, among: tagged(id) };
      const [, how, which] = /^(and|without)-([1-9]\d{0,8})$/.exec(part) ?? [];
      const other = how ? await tagById(this.database.db, idOf(Number(which))) : undefined;
      if (!other) return undefined;
      return how === 'and'
        ? {
            title: `tagged “${tag.name}” and “${other.name}”`,
            among: allOf(tagged(id), tagged(other.id)),
          }
        : {
            title: `tagged “${tag.name}”, not “${other.name}”`,
            among: allOf(tagged(id), notIn(tagged(other.id))),
          };
    });
  }
}
