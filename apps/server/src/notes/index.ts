export { NotesModule } from './notes.module.js';
