export { DeliveryModule } from './delivery.module.js';
export { ReaderService } from './reader.service.js';
export { ResponsesService } from './responses.service.js';
export { SendingService } from './sending.service.js';
export { readerRoutes } from './reader.routes.js';
export { ReturnedImap } from './returned.imap.js';
export { ReturnedSmtp } from './returned.smtp.js';
export { trackedAddresses } from './tracked.js';
export { countedNumbers, isWhole } from './numbers.store.js';
