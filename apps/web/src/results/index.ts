export { Curve } from './Curve';
export { useLatestResultsQuery, useSinceQuery } from './results.api';
