import { Module } from '@nestjs/common';
import { ContactsModule } from '../contacts/index.js';
import { SegmentsModule } from '../segments/index.js';
import { CampaignsController } from './campaigns.controller.js';
import { CampaignsService } from './campaigns.service.js';

@Module({
  imports: [ContactsModule, SegmentsModule],
  controllers: [CampaignsController],
  providers: [CampaignsService],
  exports: [CampaignsService],
})
export class CampaignsModule {}
