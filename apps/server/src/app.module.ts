// The only file that lists every capability.
import { Module, type DynamicModule } from '@nestjs/common';
import { CampaignsModule } from './campaigns/index.js';
import { ContactsModule } from './contacts/index.js';
import { DeliveryModule } from './delivery/index.js';
import { IntakeModule } from './intake/index.js';
import { LettersModule } from './letters/index.js';
import { NotesModule } from './notes/index.js';
import { OfficeModule } from './office/index.js';
import { PlatformModule, type Parts } from './platform/platform.module.js';
import { ResultsModule } from './results/index.js';
import { SegmentsModule } from './segments/index.js';

@Module({})
export class AppModule {
  static with(parts: Parts): DynamicModule {
    return {
      module: AppModule,
      imports: [
        PlatformModule.with(parts),
        OfficeModule,
        ContactsModule,
        SegmentsModule,
        LettersModule,
        CampaignsModule,
        DeliveryModule,
        NotesModule,
        ResultsModule,
        IntakeModule,
      ],
    };
  }
}
