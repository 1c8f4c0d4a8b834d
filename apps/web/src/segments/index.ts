export {
  FilterChip,
  FilterPanel,
  useFilterDraft,
  useFilterRule,
  type FilterDraft,
} from './FilterPart';
export { IntoSegment } from './IntoSegment';
export { RuleOnTheSpot } from './RuleOnTheSpot';
export { useRuleContext } from './useRuleContext';
export { SegmentsOf } from './SegmentsOf';
export {
  useAddSegmentMutation,
  useAddViewMutation,
  useChangeViewMutation,
  useKeepFilterMutation,
  useRemoveViewMutation,
  useRestoreViewMutation,
  useSegmentsQuery,
  useStartWithMutation,
  useViewsQuery,
} from './segments.api';
