export { ResultsModule } from './results.module.js';
