// The clock and the ids that everything takes from outside.
import { randomUUID } from 'node:crypto';
import type { Clock, Ids } from '@palabra/core/kernel';

export const CLOCK = Symbol('clock');
export const IDS = Symbol('ids');
export const CONFIG = Symbol('config');

export const systemClock: Clock = { now: () => new Date() };
export const systemIds: Ids = { uuid: randomUUID };
