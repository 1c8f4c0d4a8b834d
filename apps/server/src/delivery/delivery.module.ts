import { Module } from '@nestjs/common';
import { CampaignsModule } from '../campaigns/index.js';
import { ContactsModule } from '../contacts/index.js';
import { LettersModule } from '../letters/index.js';
import { DeliveryController } from './delivery.controller.js';
import { Lanes } from './lanes.js';
import { NotesService } from './notes.service.js';
import { ReaderService } from './reader.service.js';
import { ResponsesService } from './responses.service.js';
import { ReturnedController } from './returned.controller.js';
import { ReturnedImap } from './returned.imap.js';
import { ReturnedReader } from './returned.reader.js';
import { ReturnedService } from './returned.service.js';
import { ReturnedSmtp } from './returned.smtp.js';
import { StandbyController } from './standby.controller.js';
import { StandbyService } from './standby.service.js';
import { SendingService } from './sending.service.js';

@Module({
  imports: [ContactsModule, LettersModule, CampaignsModule],
  controllers: [DeliveryController, ReturnedController, StandbyController],
  providers: [
    Lanes,
    SendingService,
    StandbyService,
    ResponsesService,
    ReaderService,
    NotesService,
    ReturnedService,
    ReturnedReader,
    ReturnedSmtp,
    ReturnedImap,
  ],
  exports: [ResponsesService, ReaderService, SendingService, ReturnedSmtp, ReturnedImap],
})
export class DeliveryModule {}
