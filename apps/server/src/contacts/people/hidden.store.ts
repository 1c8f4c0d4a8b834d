// How many addresses of colleagues' people a member may come to know of in a day, by adding them one by one or by a list.
import type { UserId } from '@palabra/core/office';
import type { Db } from '../../platform/database.js';
import { DAY, mayTry, type Limit } from '../../platform/throttle.store.js';

/** Somebody who adds people they know meets a few. */
const HIDDEN: Limit = { most: 20, windowMs: DAY };

/** Counts those that are met now; false where they are too many for the day. */
export const mayLearnOf = (db: Db, member: UserId, now: Date, times = 1): Promise<boolean> =>
  mayTry(db, `hidden address ${member}`, HIDDEN, now, times);
