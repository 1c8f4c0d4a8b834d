import { Module } from '@nestjs/common';
import { CampaignsModule } from '../campaigns/index.js';
import { ContactsModule } from '../contacts/index.js';
import { ResultsController } from './results.controller.js';
import { ResultsService } from './results.service.js';

@Module({
  imports: [ContactsModule, CampaignsModule],
  controllers: [ResultsController],
  providers: [ResultsService],
})
export class ResultsModule {}
