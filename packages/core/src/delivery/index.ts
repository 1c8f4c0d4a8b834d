export { GIVE_UP_AFTER, deliveryStates, next, pauseAfter, settled, tried, type DeliveryEvent, type DeliveryState } from './delivery.js';
export { readAnswer, type Answer, type BounceKind } from './answer.js';
export { packBody, purposes, unpackBody, type Purpose, type TokenBody } from './token.js';
export { machineReason, type Hit } from './machine.js';
