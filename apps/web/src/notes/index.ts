export { Composer } from './Composer';
export { ForEach } from './ForEach';
export { Kept } from './Kept';
export { NoteEntry } from './NoteEntry';
export { TaskLine } from './TaskLine';
export { ToDo } from './ToDo';
