export { useReturnedInfiniteQuery } from './delivery.api';
export { ProofButton } from './ProofButton';
export { StandbyNote, StandbyPart } from './Standby';
export { UnderWay } from './UnderWay';
