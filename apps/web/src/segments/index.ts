export { useSegmentsQuery } from './segments.api';
