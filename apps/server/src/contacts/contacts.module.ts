import { Inject, Module, type OnModuleInit } from '@nestjs/common';
import type { Clock } from '@palabra/core/kernel';
import { seesEverybody } from '@palabra/core/office';
import { Database } from '../platform/database.js';
import { CLOCK } from '../platform/time.js';
import { Upkeep } from '../platform/upkeep.js';
import { changeSetById, forgetItems } from './changes.store.js';
import { ChangesController } from './changes.controller.js';
import { ChangesService } from './changes.service.js';
import { ContactsController } from './contacts.controller.js';
import { ContactsService } from './contacts.service.js';
import { PeopleSets } from './people-sets.js';
import { changedBy, leftAloneBy, refusedOften, tagged } from './people.store.js';
import { tagById } from './vocabulary.store.js';

/** How long a change can be taken back, in days. */
const UNDO_DAYS = 30;
const FORGET = 2000;

@Module({
  controllers: [ContactsController, ChangesController],
  providers: [ContactsService, ChangesService, PeopleSets],
  exports: [ContactsService, ChangesService, PeopleSets],
})
export class ContactsModule implements OnModuleInit {
  constructor(
    private readonly sets: PeopleSets,
    private readonly database: Database,
    private readonly upkeep: Upkeep,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.upkeep.register(
      async () =>
        (await forgetItems(
          this.database.db,
          new Date(this.clock.now().getTime() - UNDO_DAYS * 24 * 3600_000),
          FORGET,
        )) === FORGET,
    );
    this.sets.register('change', 'of whoever asks', async ({ id, part }, viewer) => {
      const set = await changeSetById(this.database.db, id);
      if (set && !seesEverybody(viewer.role) && set.userId !== viewer.userId) return undefined;
      if (!set || part === '')
        return set && { title: set.what, among: changedBy(id), isRecord: true };
      return part === 'left-alone' && set.undoes !== null
        ? {
            title: `left alone, because they changed again: ${set.what}`,
            among: leftAloneBy(id, set.undoes),
            isRecord: true,
          }
        : undefined;
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
    this.sets.register('tag', 'of whoever asks', async ({ id }) => {
      const tag = await tagById(this.database.db, id);
      return tag && { title: `tagged “${tag.name}”`, among: tagged(id) };
    });
  }
}
