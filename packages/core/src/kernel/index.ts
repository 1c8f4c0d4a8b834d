// The few types that every capability needs, and the door for text. Closed: nothing else moves in here.

export { hasLongRun, MOST_MARKS, normalized, urlOf } from './text.js';

declare const brand: unique symbol;

/** A key of one kind of thing; cast to only where it is parsed or made. */
export type Id<Name extends string> = number & { readonly [brand]: Name };

/** Makes a number that was read or received the key it is. */
export const idOf = <I extends Id<string>>(value: number): I => value as I;

export type Result<T, E> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly error: E };

export const ok = <T>(value: T): { readonly ok: true; readonly value: T } => ({ ok: true, value });
export const fail = <E>(error: E): { readonly ok: false; readonly error: E } => ({
  ok: false,
  error,
});

/** Closes a switch over a union: adding a member becomes a compile error here. */
export function unreachable(value: never): never {
  throw new Error(`unreachable: ${JSON.stringify(value)}`);
}

export interface Clock {
  readonly now: () => Date;
}

/** Source of ids that are not made by the database. */
export interface Ids {
  readonly uuid: () => string;
}
