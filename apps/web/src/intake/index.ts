export { useImportsQuery } from './intake.api';
export { importWords } from './words';
