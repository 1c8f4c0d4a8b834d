// What letters and mails hold of people, as it is told and taken out when somebody is erased.
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { withoutAddressesIn } from '@palabra/core/contacts';
import { factsChanged } from '../campaigns/index.js';
import { PersonalPlaces, withoutMentions } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { refuse } from './delivery.refusals.js';
import { outbox } from './delivery.table.js';
import * as store from './personal.store.js';

/** Messages that are read at once. */
const PAGE = 200;

@Injectable()
export class DeliveryPlaces implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly places: PersonalPlaces,
  ) {}

  onModuleInit(): void {
    this.places.register('letters', {
      held: store.lettersHeld,
      forget: async (tx, whose) => factsChanged(tx, await store.forgetLetters(tx, whose)),
      addresses: store.deliveredTo,
      // Whether a letter in the mail server's hands arrives, nobody knows yet; what it answers would be written down.
      refuse: async (tx, whose) => {
        const campaign = await store.inHand(tx, whose);
        if (campaign !== undefined) throw refuse('letter-in-hand', campaign);
      },
    });
    this.places.register('returned mail', {
      held: store.returnedHeld,
      forget: store.forgetReturned,
      // What others wrote is much, and nobody knows who is named in it.
      behind: async ({ isAsked, isTheirs }, after) => {
        if (!isAsked) return undefined;
        const { db } = this.database;
        const page = await store.returnedAfter(db, after, PAGE);
        for (const { id, ...texts } of page) {
          const without = withoutAddressesIn(texts, isTheirs);
          if (without !== texts) await store.rewriteReturned(db, id, without);
        }
        return page.at(-1)?.id;
      },
    });
    this.places.register('office mail', {
      held: store.mailsHeld,
      forget: async (tx, whose) => {
        await store.forgetMails(tx, whose);
        await withoutMentions(tx, outbox, outbox.text, whose);
      },
    });
  }
}
