import { Module } from '@nestjs/common';
import { ContactsModule } from '../contacts/index.js';
import { FiltersController } from './filters.controller.js';
import { FiltersService } from './filters.service.js';
import { SegmentsController } from './segments.controller.js';
import { SegmentFiles } from './files.service.js';
import { HeldService } from './held.service.js';
import { KindsService } from './kinds.service.js';
import { RulesService } from './rules.service.js';
import { SegmentsService } from './segments.service.js';
import { SiftingService } from './sifting.service.js';
import { TogetherService } from './together.service.js';
import { ViewsController } from './views.controller.js';
import { ViewsService } from './views.service.js';
import { SegmentPlaces } from './personal.js';

@Module({
  imports: [ContactsModule],
  controllers: [SegmentsController, FiltersController, ViewsController],
  providers: [
    RulesService,
    SegmentsService,
    HeldService,
    SiftingService,
    KindsService,
    TogetherService,
    SegmentFiles,
    FiltersService,
    ViewsService,
    SegmentPlaces,
  ],
  exports: [SegmentsService, RulesService, FiltersService],
})
export class SegmentsModule {}
