export {
  GIVE_UP_AFTER,
  deliveryStates,
  deliverySteps,
  due,
  leadsOn,
  pauseAfter,
  settled,
  stepOf,
  tried,
  unsettled,
  type DeliveryState,
  type DeliveryStep,
} from './delivery.js';
export { eventKinds, type EventKind, type LetterState } from './events.js';
export { bounceOf, readAnswer, type Answer, type BounceKind } from './answer.js';
export {
  evidences,
  readReturned,
  returnedKinds,
  type Evidence,
  type Returned,
  type ReturnedKind,
  type ReturnedMessage,
  type Verify,
} from './returned.js';
export {
  mailKinds,
  officeMails,
  type MailFacts,
  type MailKind,
  type MailOffice,
  type OfficeMail,
} from './mails.js';
export {
  afterHandingOver,
  outboxStates,
  outboxSteps,
  type HandedOver,
  type OutboxState,
  type OutboxStep,
} from './outbox.js';
export { packBody, purposes, unpackBody, type Purpose, type TokenBody } from './token.js';
export {
  AT_ONCE,
  labelHits,
  machineReason,
  TOO_SOON,
  type DeliverySeen,
  type Hit,
  type ReaderHit,
} from './machine.js';
import type { Id } from '../kernel/index.js';
export type MailId = Id<'Mail'>;
