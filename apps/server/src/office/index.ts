export { OfficeModule } from './office.module.js';
export { findOffice, theOffice, type Office } from './office.store.js';
