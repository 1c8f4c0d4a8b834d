export {
  FilterChip,
  FilterPanel,
  useFilterDraft,
  useFilterRule,
  type FilterDraft,
} from './FilterPart';
export { IntoSegment } from './IntoSegment';
export { SegmentsOf } from './SegmentsOf';
export {
  useAddViewMutation,
  useChangeViewMutation,
  useRemoveViewMutation,
  useRestoreViewMutation,
  useSegmentsQuery,
  useStartWithMutation,
  useViewsQuery,
} from './segments.api';
