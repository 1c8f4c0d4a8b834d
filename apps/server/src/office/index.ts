export { AccountsService } from './accounts.service.js';
export { OfficeModule } from './office.module.js';
export { OfficeService } from './office.service.js';
export { findOffice, keepMailTakesUtf8, theOffice, type Office } from './office.store.js';
