import { Module, type OnModuleInit } from '@nestjs/common';
import { Database } from '../platform/database.js';
import { changeSetById } from './changes.store.js';
import { ContactsController } from './contacts.controller.js';
import { ContactsService } from './contacts.service.js';
import { PeopleSets } from './people-sets.js';
import { changedBy, tagged } from './people.store.js';
import { tagById } from './vocabulary.store.js';

@Module({ controllers: [ContactsController], providers: [ContactsService, PeopleSets], exports: [ContactsService, PeopleSets] })
export class ContactsModule implements OnModuleInit {
  constructor(
    private readonly sets: PeopleSets,
    private readonly database: Database,
  ) {}

  onModuleInit(): void {
    this.sets.register('change', async ({ id }) => {
      const set = await changeSetById(this.database.db, id);
      return set && { title: set.what, among: changedBy(id) };
    });
    this.sets.register('tag', async ({ id }) => {
      const tag = await tagById(this.database.db, id);
      return tag && { title: `tagged “${tag.name}”`, among: tagged(id) };
    });
  }
}
