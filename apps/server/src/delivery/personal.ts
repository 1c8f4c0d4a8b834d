// What letters and mails hold of people, as it is told and taken out when somebody is erased.
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { factsChanged } from '../campaigns/index.js';
import { PersonalPlaces, withoutMentions } from '../contacts/index.js';
import { refuse } from './delivery.refusals.js';
import { outbox, returnedMail } from './delivery.table.js';
import * as store from './personal.store.js';

@Injectable()
export class DeliveryPlaces implements OnModuleInit {
  constructor(private readonly places: PersonalPlaces) {}

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
      forget: async (tx, whose) => {
        await store.forgetReturned(tx, whose);
        for (const column of [
          returnedMail.sender,
          returnedMail.subject,
          returnedMail.excerpt,
          returnedMail.diagnosis,
        ])
          await withoutMentions(tx, returnedMail, column, whose);
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
