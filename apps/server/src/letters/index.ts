export { LettersModule } from './letters.module.js';
export { LettersService } from './letters.service.js';
export { letterById, type Letter } from './letters.store.js';
