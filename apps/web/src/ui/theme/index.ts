export { theme, variables } from './theme';
