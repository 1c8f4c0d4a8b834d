import { Module } from '@nestjs/common';
import { CampaignsModule } from '../campaigns/index.js';
import { ContactsModule } from '../contacts/index.js';
import { LettersModule } from '../letters/index.js';
import { DeliveryController } from './delivery.controller.js';
import { ResponsesService } from './responses.service.js';
import { SendingService } from './sending.service.js';

@Module({ imports: [ContactsModule, LettersModule, CampaignsModule], controllers: [DeliveryController], providers: [SendingService, ResponsesService], exports: [ResponsesService, SendingService] })
export class DeliveryModule {}
