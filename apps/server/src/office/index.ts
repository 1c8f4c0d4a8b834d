export { OfficeModule } from './office.module.js';
export { findOffice, keepMailTakesUtf8, theOffice, type Office } from './office.store.js';
