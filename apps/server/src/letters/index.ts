export { LettersModule } from './letters.module.js';
export { LettersService } from './letters.service.js';
export { sendLetter } from './send-letter.js';
export { addLetter, letterById, type Letter } from './letters.store.js';
