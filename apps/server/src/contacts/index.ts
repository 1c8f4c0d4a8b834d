export { ContactsModule } from './contacts.module.js';
export {
  changedSince,
  finishChangeSet,
  hadToDoWithSince,
  madeBy,
  openChangeSet,
} from './changes/changes.store.js';
export { Things } from './changes/things.js';
export { ChangesService } from './changes/changes.service.js';
export { allFields, fieldsMadeSince } from './fields/fields.store.js';
export { FieldsService } from './fields/fields.service.js';
export { TagsService } from './tags/tags.service.js';
export { tagCounts } from './tags/tags.store.js';
export { TagUses } from './tags/uses.js';
export { PersonalPlaces, type Gone, type Held, type Whose } from './erasing/places.js';
export { namesOneOf, withoutMentions } from './erasing/mentions.store.js';
export { erasedHashes, letBackIn } from './erasing/erasing.store.js';
export { FieldUses } from './fields/uses.js';
export { PeopleSets, type PeopleSet } from './people/people-sets.js';
export { PeopleService } from './people/people.service.js';
export {
  allOf,
  count as countPeople,
  countLiving,
  gone,
  inPool,
  lastKey,
  linesOf,
  living,
  nobody,
  notIn,
  page as peoplePage,
  standing,
  standingOfMany,
  tagged,
  theseOnes,
  weighedPage,
} from './people/people.store.js';
export { automaticallyTagged, automaticTagIds } from './people/automatic.store.js';
export { owned, owns, scope, seenBy, sees } from './people/scope.store.js';
export { ownValue, sinceDay } from './people/columns.store.js';
export { personRow } from './people/people.view.js';
export {
  anyContacts,
  contactById,
  contactsByAddress,
  contactTagIds,
  holdersOfNumbers,
  livingContacts,
  learnAddresses,
  lockByAddress,
  lockContacts,
  tagsOf,
  type LockedContact,
} from './people/person.store.js';
export { RatedLetters } from './ratings/letters.js';
export { writeRecentLetters, type LettersQuery } from './ratings/ratings.store.js';
export { knownCourse, ratingMoved } from './ratings/ratings.store.js';
export { mayLearnOf } from './people/hidden.store.js';
export { Ties } from './people/ties.js';
export { Timeline } from './people/timeline.js';
export type { TimelineRow, TimelineSource } from './people/timeline.store.js';
export {
  claimsOf,
  knownValue,
  standardValues,
  valueOf,
  type ContactRow,
  type Values,
} from './people/values.js';
export { PeopleWriter } from './people/writer.js';
export {
  doNotMailEntry,
  keptFromMail,
  addressesOf,
  putOnDoNotMail,
  putPersonOnDoNotMail,
  takeOffDoNotMail,
} from './standing/do-not-mail.store.js';
export { droppedBy, dropTopics } from './standing/dropped-topics.store.js';
export {
  bounceCounts,
  factCounts,
  recentBits,
  countResponses,
  countSent,
  countSentOf,
  hadContact,
  writeBounces,
  writeFacts,
  writeLastContact,
  type BounceCount,
  type ResponseFact,
} from './standing/facts.store.js';
export { allTopics, topicById } from './vocabulary/topics.store.js';
export { VocabularyService } from './vocabulary/vocabulary.service.js';
export {
  addPool,
  addTag,
  allPools,
  allTags,
  housePool,
  tagById,
} from './vocabulary/vocabulary.store.js';
