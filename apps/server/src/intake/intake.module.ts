import { Module } from '@nestjs/common';
import { ContactsModule } from '../contacts/index.js';
import { Deciding } from './deciding.js';
import { ImportFiles } from './files.js';
import { ImportWork } from './import-work.js';
import { IntakeController } from './intake.controller.js';
import { IntakeService } from './intake.service.js';
import { Leftovers } from './leftovers.js';
import { LookWork } from './look-work.js';
import { LookingController } from './looking.controller.js';
import { LookingService } from './looking.service.js';
import { ImportPlaces } from './personal.js';
import { Tables } from './tables.js';
import { Workbooks } from './workbooks.js';

@Module({
  imports: [ContactsModule],
  controllers: [IntakeController, LookingController],
  providers: [
    IntakeService,
    ImportWork,
    LookWork,
    LookingService,
    Deciding,
    ImportFiles,
    ImportPlaces,
    Leftovers,
    Tables,
    Workbooks,
  ],
})
export class IntakeModule {}
