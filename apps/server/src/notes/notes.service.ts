// Notes about people: written, pinned, told to colleagues. Whoever sees a person sees what is written about them.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { NoteChangeRequest, NoteReply, NoteRequest, ToldReply } from '@palabra/contract/notes';
import type { ContactId } from '@palabra/core/contacts';
import { idOf, type Clock } from '@palabra/core/kernel';
import { isContact, type NoteId } from '@palabra/core/notes';
import type { UserId, Viewer } from '@palabra/core/office';
import {
  anyContacts,
  hadContact,
  PeopleService,
  scope,
  Ties,
  Timeline,
} from '../contacts/index.js';
import { Database, type Db } from '../platform/database.js';
import { conflict, notFound } from '../platform/refusals.js';
import { CLOCK } from '../platform/time.js';
import { Upkeep } from '../platform/upkeep.js';
import { withKept } from './kept.js';
import { refuse } from './notes.refusals.js';
import * as store from './notes.store.js';
import { notesOf } from './timeline.store.js';

/** As long as a deleted one can be brought back. */
const BIN_MS = 30 * 86_400_000;
const PINNED = 20;
const TOLD = 50;

@Injectable()
export class NotesService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly people: PeopleService,
    private readonly timeline: Timeline,
    private readonly ties: Ties,
    private readonly upkeep: Upkeep,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.timeline.register('notes', {
      rows: notesOf,
      complete: (db, _, rows, viewer) =>
        withKept(
          rows,
          'note',
          (ids) =>
            store.noteRows(
              db,
              ids.map((id) => idOf<NoteId>(id)),
            ),
          (note) => reply(note, viewer),
        ),
    });
    // Whom an import brought and somebody wrote about stays when it is taken back.
    this.ties.register({ holds: store.hasNotes });
    this.upkeep.register(async () => {
      await this.database.transaction((tx) =>
        store.purge(tx, new Date(this.clock.now().getTime() - BIN_MS)),
      );
      return false;
    });
  }

  async add(contactId: ContactId, request: NoteRequest, viewer: Viewer): Promise<NoteReply> {
    const at = this.clock.now();
    const id = await this.database.transaction(async (tx) => {
      await this.people.person(contactId, viewer, tx);
      const { kind, text, pinned } = request;
      const added = await store.addNote(tx, {
        contactId,
        userId: viewer.userId,
        kind,
        text,
        pinned,
        at,
      });
      await store.tell(tx, added, told(request, viewer));
      if (isContact(kind)) await hadContact(tx, contactId, at);
      return added;
    });
    return this.one(id, viewer);
  }

  async change(id: NoteId, request: NoteChangeRequest, viewer: Viewer): Promise<NoteReply> {
    await this.database.transaction(async (tx) => {
      const note = await this.lockOwn(tx, id, viewer);
      if (note.version !== request.version) throw conflict('note', await this.one(id, viewer, tx));
      await store.changeNote(tx, id, request);
      await store.tell(tx, id, told(request, viewer));
      await store.recountLastContact(tx, note.contactId);
    });
    return this.one(id, viewer);
  }

  async setDeleted(id: NoteId, isGone: boolean, viewer: Viewer): Promise<void> {
    await this.database.transaction(async (tx) => {
      const note = await this.lockOwn(tx, id, viewer, !isGone);
      await store.setNoteDeleted(tx, id, isGone ? this.clock.now() : null);
      await store.recountLastContact(tx, note.contactId);
    });
  }

  /** A note that is there (or was deleted), about somebody whom the asker sees, and that is theirs to change. */
  private async lockOwn(tx: Db, id: NoteId, viewer: Viewer, isGone = false): Promise<store.Note> {
    const note = await store.lockNote(tx, id);
    if (!note || (note.deletedAt !== null) !== isGone) throw notFound('note');
    await this.people.person(note.contactId, viewer, tx);
    if (!mayChange(note.userId, viewer)) throw refuse('not-yours');
    return note;
  }

  private async one(id: NoteId, viewer: Viewer, db: Db = this.database.db): Promise<NoteReply> {
    const [note] = await store.noteRows(db, [id]);
    if (!note) throw notFound('note');
    return reply(note, viewer);
  }

  async pinned(contactId: ContactId, viewer: Viewer): Promise<NoteReply[]> {
    const found = await store.pinnedNotes(this.database.db, contactId, PINNED);
    return found.map((note) => reply(note, viewer));
  }

  /** What colleagues told somebody and they have not seen yet. */
  async toldTo(viewer: Viewer): Promise<ToldReply[]> {
    const { db } = this.database;
    const found = await store.notesToSee(db, viewer.userId, scope(viewer), TOLD);
    const people = new Map(
      (await anyContacts(db, [...new Set(found.map(({ contact_id }) => contact_id))])).map(
        (row) => [row.id, row],
      ),
    );
    return found.flatMap((note) => {
      const row = people.get(note.contact_id);
      if (!row) return [];
      const { id, givenName, familyName, address, phone } = row;
      return [{ note: reply(note, viewer), person: { id, givenName, familyName, address, phone } }];
    });
  }

  async see(id: NoteId, viewer: Viewer): Promise<void> {
    await store.seeNote(this.database.db, id, viewer.userId, this.clock.now());
  }
}

const told = ({ tell }: NoteRequest, viewer: Viewer): UserId[] =>
  [...new Set(tell)].filter((id) => id !== viewer.userId).map((id) => idOf<UserId>(id));

const mayChange = (author: number, viewer: Viewer): boolean =>
  author === viewer.userId || viewer.role === 'coordinator';

const reply = (note: store.NoteRow, viewer: Viewer): NoteReply => ({
  id: note.id,
  version: note.version,
  kind: note.kind,
  text: note.text,
  at: note.at.toISOString(),
  by: { id: note.user_id, name: note.by },
  pinned: note.pinned,
  told: note.told,
  mayChange: mayChange(note.user_id, viewer),
});
