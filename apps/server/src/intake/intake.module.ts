import { Module } from '@nestjs/common';
import { ContactsModule } from '../contacts/index.js';
import { ImportWork } from './import-work.js';
import { IntakeController } from './intake.controller.js';
import { IntakeService } from './intake.service.js';
import { ImportPlaces } from './personal.js';

@Module({
  imports: [ContactsModule],
  controllers: [IntakeController],
  providers: [IntakeService, ImportWork, ImportPlaces],
})
export class IntakeModule {}
