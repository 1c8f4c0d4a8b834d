import { Module } from '@nestjs/common';
import { ContactsModule } from '../contacts/index.js';
import { FiltersController } from './filters.controller.js';
import { FiltersService } from './filters.service.js';
import { SegmentsController } from './segments.controller.js';
import { SegmentsService } from './segments.service.js';
import { ViewsController } from './views.controller.js';
import { ViewsService } from './views.service.js';
import { SegmentPlaces } from './personal.js';

@Module({
  imports: [ContactsModule],
  controllers: [SegmentsController, FiltersController, ViewsController],
  providers: [SegmentsService, FiltersService, ViewsService, SegmentPlaces],
  exports: [SegmentsService, FiltersService],
})
export class SegmentsModule {}
