import { Module } from '@nestjs/common';
import { ContactsModule } from '../contacts/index.js';
import { DeliveryModule } from '../delivery/index.js';
import { OfficeModule } from '../office/index.js';
import { NotesController } from './notes.controller.js';
import { NotesService } from './notes.service.js';
import { TasksService } from './tasks.service.js';
import { NotePlaces } from './personal.js';

@Module({
  imports: [OfficeModule, ContactsModule, DeliveryModule],
  controllers: [NotesController],
  providers: [NotesService, TasksService, NotePlaces],
})
export class NotesModule {}
