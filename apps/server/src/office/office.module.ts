import { Module } from '@nestjs/common';
import { AccountsController } from './accounts.controller.js';
import { AccountsService } from './accounts.service.js';
import { OfficeController } from './office.controller.js';
import { OfficeService } from './office.service.js';

@Module({
  controllers: [OfficeController, AccountsController],
  providers: [OfficeService, AccountsService],
  exports: [OfficeService, AccountsService],
})
export class OfficeModule {}
