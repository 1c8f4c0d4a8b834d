// Notes and tasks about people, as they are told and taken out when somebody is erased.
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { plainText } from '@palabra/core/notes';
import { PersonalPlaces, withoutMentions } from '../contacts/index.js';
import { notes, tasks } from './notes.table.js';
import * as store from './personal.store.js';

@Injectable()
export class NotePlaces implements OnModuleInit {
  constructor(private readonly places: PersonalPlaces) {}

  onModuleInit(): void {
    this.places.register('notes', {
      held: async (db, { people }) =>
        (await store.notesAbout(db, people)).map(({ at, kind, by, text }) => ({
          at,
          what: `${kind}, by ${by}`,
          text: plainText(text.content),
        })),
      forget: async (tx, whose) => {
        await store.dropNotes(tx, whose.people);
        await withoutMentions(tx, notes, notes.text, whose);
      },
    });
    this.places.register('tasks', {
      held: async (db, { people }) =>
        (await store.tasksFor(db, people)).map(({ created_at, kind, assignee, text, due }) => ({
          at: created_at,
          what: `${kind}, for ${assignee}`,
          text: due === null ? text : `${text}, by ${due}`,
        })),
      forget: async (tx, whose) => {
        await store.dropTasks(tx, whose.people);
        await withoutMentions(tx, tasks, tasks.text, whose);
      },
    });
  }
}
