// Mails of the office itself, such as a link to a reader's own page. They are written down where they are
// asked for and sent behind the answer, so that nobody learns from the time it takes whether there is one.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { readAnswer } from '@palabra/core/delivery';
import type { Clock } from '@palabra/core/kernel';
import { theOffice } from '../office/index.js';
import { Database, type Db } from '../platform/database.js';
import { Jobs } from '../platform/jobs.js';
import { log } from '../platform/log.js';
import { MINUTE } from '../platform/throttle.store.js';
import { CLOCK } from '../platform/time.js';
import { Lanes } from './lanes.js';
import { composeNote } from './message.js';
import * as store from './notes.store.js';

/** How long to wait after each try that came to nothing for now; after the last it is given up. */
const WAITS = [1, 5, 15, 60, 240, 720].map((minutes) => minutes * MINUTE);

@Injectable()
export class NotesService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly jobs: Jobs,
    private readonly lanes: Lanes,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    const { db } = this.database;
    this.jobs.register({
      name: 'note',
      isOutward: true,
      run: (id) => this.send(id),
      unfinished: () => store.dueNotes(db, this.clock.now()),
      what: () => Promise.resolve('sending a mail to a reader'),
      leave: (id) => store.dropNote(db, id),
    });
  }

  /** In the caller's transaction. Without an address all is done as with one, and nothing is sent. */
  async add(tx: Db, address: string | null, subject: string, text: string): Promise<void> {
    const id = await store.addNote(tx, { address, subject, text, nextAt: this.clock.now() });
    await this.jobs.nudge('note', id, tx);
  }

  private async send(id: number): Promise<void> {
    const { db } = this.database;
    const note = await store.noteById(db, id);
    const now = this.clock.now();
    if (!note || note.nextAt > now) return;
    if (note.address === null) return store.dropNote(db, id);
    const office = await theOffice(db);
    const mail = await composeNote(
      { name: office.senderName, address: office.senderAddress },
      note.address,
      note.subject,
      note.text,
    );
    const lane = this.lanes.open();
    const outcome = await lane.send(mail.from, mail.to, mail.raw);
    lane.close();
    const isOver =
      outcome.kind === 'answered' && readAnswer(outcome.code, outcome.text).kind !== 'deferred';
    const wait = WAITS[note.attempts];
    if (!isOver && wait !== undefined)
      return store.tryNoteLater(db, id, note.attempts + 1, new Date(now.getTime() + wait));
    if (!isOver || outcome.code >= 300)
      log.warn({ note: id }, 'a mail of the office was not taken by the mail server');
    await store.dropNote(db, id);
  }
}
