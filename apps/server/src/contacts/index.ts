export { ContactsModule } from './contacts.module.js';
export { ChangesService } from './changes.service.js';
export { ContactsService } from './contacts.service.js';
export { PeopleSets, type PeopleSet } from './people-sets.js';
export { personRow } from './contacts.view.js';
export * as peopleStore from './people.store.js';
export * as vocabularyStore from './vocabulary.store.js';
export * as contactStore from './contacts.store.js';
export * as changeStore from './changes.store.js';
export { doNotMailEntry, putOnDoNotMail, takeOffDoNotMail } from './do-not-mail.store.js';
export {
  countResponses,
  countSent,
  countSentOf,
  recountContacts,
  recountBounces,
  type ResponseFact,
} from './facts.store.js';
export * as topicStore from './topics.store.js';
export { permissionValues, valueOf, write, type ContactRow, type Values } from './values.js';
