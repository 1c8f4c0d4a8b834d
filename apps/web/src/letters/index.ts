export { pictureOf, useAddLetterMutation, useLetterQuery, useLettersQuery } from './letters.api';
export { LinePreview, LineText } from './LinePreview';
