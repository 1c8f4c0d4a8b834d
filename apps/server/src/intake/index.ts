export { IntakeModule } from './intake.module.js';
