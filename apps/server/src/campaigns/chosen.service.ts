// People to write to without a segment: chosen one by one, or by what a list was narrowed to. A campaign keeps them.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { PeopleSelection } from '@palabra/contract/contacts';
import type { ChosenId } from '@palabra/core/campaigns';
import type { ContactId } from '@palabra/core/contacts';
import { idOf, type Clock } from '@palabra/core/kernel';
import type { Viewer } from '@palabra/core/office';
import type { SQL } from 'drizzle-orm';
import { PeopleSets, theseOnes } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { CLOCK } from '../platform/time.js';
import { FiltersService } from '../segments/index.js';
import { addChosen, chosenById, type Chosen } from './chosen.store.js';

@Injectable()
export class ChosenService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly sets: PeopleSets,
    private readonly filters: FiltersService,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.sets.register<ChosenId>('people', 'of whoever asks', async ({ id, part }) => {
      const chosen = part === '' ? await this.one(id) : undefined;
      return chosen && { title: chosen.name, among: await this.people(chosen) };
    });
  }

  /** Keeps who is meant, as the asker sees them; a list stays its rule, and finds whom it finds when it is sent to. */
  async keep({ ids, except, ...filter }: PeopleSelection, viewer: Viewer): Promise<ChosenId> {
    const { title } = await this.sets.resolve(filter, viewer);
    const { filter: key, ...rest } = filter;
    const rule = key === undefined ? null : (await this.filters.one(key)).rule;
    return addChosen(this.database.db, {
      name: ids
        ? `${ids.length.toLocaleString('en')} ${ids.length === 1 ? 'person' : 'people'} chosen in a list`
        : (title ??
          (Object.keys(filter).length === 0 ? 'everybody in the house pool' : 'a narrowed list')),
      ids: ids ? ids.map((id) => idOf<ContactId>(id)) : null,
      filter: ids ? null : { ...rest, ...(except ? { except } : {}) },
      rule: ids ? null : rule,
      userId: viewer.userId,
      createdAt: this.clock.now(),
    });
  }

  one(id: ChosenId): Promise<Chosen | undefined> {
    return chosenById(this.database.db, id);
  }

  /** A condition on `contacts c`: of those whom a coordinator sees, as for every campaign. */
  async people({ ids, filter, rule, userId }: Chosen): Promise<SQL> {
    if (ids) return theseOnes(ids);
    const meant: PeopleSelection = {
      ...filter,
      ...(rule ? { filter: await this.filters.keepRule(rule) } : {}),
    };
    return this.sets.meant(meant, { userId, role: 'coordinator' });
  }
}
