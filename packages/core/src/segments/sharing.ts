// Who sees a segment, and who may change it.
import { allowed, type Viewer } from '../office/index.js';

/** Who sees it beside its owner. */
export const segmentSharings = ['private', 'some', 'all'] as const;
export type SegmentSharing = (typeof segmentSharings)[number];

export interface SharedSegment {
  /** Null of one from before there were owners. */
  readonly ownerId: number | null;
  readonly sharing: SegmentSharing;
  readonly sharedWith: readonly number[];
}

export const seesSegment = (
  { userId }: Viewer,
  { ownerId, sharing, sharedWith }: SharedSegment,
): boolean =>
  ownerId === userId || sharing === 'all' || (sharing === 'some' && sharedWith.includes(userId));

/** Its owner; and whoever writes the office's letters, of those they see. */
export const changesSegment = (viewer: Viewer, segment: SharedSegment): boolean =>
  allowed(viewer.role, 'make segments') &&
  seesSegment(viewer, segment) &&
  (segment.ownerId === viewer.userId || allowed(viewer.role, 'write letters'));
