import { Module, type OnModuleInit } from '@nestjs/common';
import { CampaignsModule, CampaignsService } from '../campaigns/index.js';
import { ContactsModule, RatedLetters, Ties, Timeline } from '../contacts/index.js';
import { LettersModule } from '../letters/index.js';
import { OfficeModule } from '../office/index.js';
import { putRight } from './check.store.js';
import { DeliveryController } from './delivery.controller.js';
import { Lanes } from './lanes.js';
import { Outbox } from './outbox.js';
import { ReaderService } from './reader.service.js';
import { ResponsesService } from './responses.service.js';
import { ReturnedController } from './returned.controller.js';
import { ReturnedImap } from './returned.imap.js';
import { ReturnedReader } from './returned.reader.js';
import { ReturnedService } from './returned.service.js';
import { ReturnedSmtp } from './returned.smtp.js';
import { hasLetters, ratedLetters, recentLetters, recountBounces } from './person-facts.store.js';
import { StandbyController } from './standby.controller.js';
import { StandbyService } from './standby.service.js';
import { SendingService } from './sending.service.js';

import { heldBackOf, lettersOf } from './timeline.store.js';
import { writtenPeople } from './written.store.js';
import { DeliveryPlaces } from './personal.js';

@Module({
  imports: [OfficeModule, ContactsModule, LettersModule, CampaignsModule],
  controllers: [DeliveryController, ReturnedController, StandbyController],
  providers: [
    Lanes,
    SendingService,
    StandbyService,
    ResponsesService,
    ReaderService,
    Outbox,
    ReturnedService,
    ReturnedReader,
    ReturnedSmtp,
    ReturnedImap,
    DeliveryPlaces,
  ],
  exports: [Outbox, ResponsesService, ReaderService, SendingService, ReturnedSmtp, ReturnedImap],
})
export class DeliveryModule implements OnModuleInit {
  constructor(
    private readonly campaigns: CampaignsService,
    private readonly ties: Ties,
    private readonly letters: RatedLetters,
    private readonly timeline: Timeline,
  ) {}

  onModuleInit(): void {
    this.campaigns.registerWritten(writtenPeople);
    this.letters.register(ratedLetters, recentLetters, putRight);
    this.ties.register({ holds: hasLetters, moved: recountBounces });
    this.timeline.register('letters', lettersOf);
    this.timeline.register('held back', heldBackOf);
  }
}
