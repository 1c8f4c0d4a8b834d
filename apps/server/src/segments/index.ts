export { SegmentsModule } from './segments.module.js';
export { FiltersService } from './filters.service.js';
export { RulesService } from './rules.service.js';
export { SegmentsService } from './segments.service.js';
export { allSegments, segmentById, type Segment } from './segments.store.js';
export { bindRule } from './rule.store.js';
