export { DeliveryModule } from './delivery.module.js';
export { ResponsesService } from './responses.service.js';
export { SendingService } from './sending.service.js';
export { readerRoutes } from './reader.routes.js';
