export { tellChange } from './changes';
export {
  contactsApi,
  useGazetteerAboutQuery,
  useOccurringQuery,
  usePeopleQuery,
  useSummaryQuery,
  useUndoMutation,
  useVocabularyQuery,
} from './contacts.api';
export { FieldInput } from './fields/FieldInput';
export { Flag, Flags } from './Flag';
export { HandOver } from './HandOver';
export { NewField } from './NewField';
export { ContactsMargin } from './ContactsMargin';
export { filterOf, placeText, readPlace, type ListPlace } from './filter';
export { NewContact } from './NewContact';
export { MovedPart } from './ratings/MovedPart';
export { PeopleList } from './PeopleList';
export type { Meant } from './selection';
export { PeopleTable } from './PeopleTable';
export { PersonPage } from './PersonPage';
export { PersonChooser } from './PersonChooser';
export { PlacesPart } from './PlacesPart';
export { TakeOut } from './TakeOut';
export { TagPicker } from './TagPicker';
export { TopicsPart } from './TopicsPart';
