import { Module, type OnModuleInit } from '@nestjs/common';
import { ContactsModule } from '../contacts/index.js';
import { LettersModule, LettersService } from '../letters/index.js';
import { RulesService, SegmentsModule, SegmentsService } from '../segments/index.js';
import { CampaignsController } from './campaigns.controller.js';
import { ChosenService } from './chosen.service.js';
import { CampaignsService } from './campaigns.service.js';
import { startedCampaigns, usesOfLetters, usesOfSegments } from './campaigns.store.js';
import { CampaignPlaces } from './personal.js';

@Module({
  imports: [ContactsModule, SegmentsModule, LettersModule],
  controllers: [CampaignsController],
  providers: [CampaignsService, ChosenService, CampaignPlaces],
  exports: [CampaignsService],
})
export class CampaignsModule implements OnModuleInit {
  constructor(
    private readonly letters: LettersService,
    private readonly segments: SegmentsService,
    private readonly rules: RulesService,
  ) {}

  onModuleInit(): void {
    this.letters.registerUse(usesOfLetters);
    this.segments.registerUse(usesOfSegments);
    this.rules.registerCampaigns(startedCampaigns);
  }
}
