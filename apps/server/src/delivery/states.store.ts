// The moves of a delivery as statements spell them.
import {
  deliverySteps,
  due,
  unsettled,
  type DeliveryState,
  type DeliveryStep,
} from '@palabra/core/delivery';
import { sql, type SQL } from 'drizzle-orm';

const list = (states: readonly DeliveryState[]): SQL =>
  sql.raw(states.map((state) => `'${state}'`).join(', '));

const column = (alias: string): SQL => sql.raw(alias === '' ? 'state' : `${alias}.state`);

/** Whether a step leads on from a delivery's state; `alias` of `deliveries`. */
export const leadsOn = (step: DeliveryStep, alias = ''): SQL =>
  sql`${column(alias)} in (${list(deliverySteps[step].from)})`;

/** The state that a step leads to, as a literal. */
export const stateAfter = (step: DeliveryStep): SQL => list([deliverySteps[step].to]);

export const isDue = (alias = ''): SQL => sql`${column(alias)} in (${list(due)})`;
export const isUnsettled = (alias = ''): SQL => sql`${column(alias)} in (${list(unsettled)})`;
