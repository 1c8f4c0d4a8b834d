import { Module } from '@nestjs/common';
import { ContactsModule } from '../contacts/index.js';
import { SegmentsController } from './segments.controller.js';
import { SegmentsService } from './segments.service.js';

@Module({
  imports: [ContactsModule],
  controllers: [SegmentsController],
  providers: [SegmentsService],
  exports: [SegmentsService],
})
export class SegmentsModule {}
