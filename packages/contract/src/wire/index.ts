// What every capability sends in the same shape.
// The decorators of requests keep what they know with the classes.
import 'reflect-metadata';
import { Transform } from 'class-transformer';
import { registerDecorator, type ValidationOptions } from 'class-validator';

/** RFC 9457. `errors` names the fields, `current` the state elsewhere in a conflict. */
export interface Problem {
  readonly type: string;
  readonly title: string;
  readonly status: number;
  readonly detail: string;
  readonly errors?: readonly FieldProblem[];
  readonly [extra: string]: unknown;
}

export interface FieldProblem {
  readonly path: string;
  readonly message: string;
}

/** Where a thing is used. */
export interface Use {
  readonly id: number;
  readonly name: string;
}

/** Dates cross the wire as ISO 8601 in UTC. */
export type Moment = string;

/** Runs a parser of core as validator: the parser's own sentence becomes the message. */
export function Parsed(
  parse: (value: unknown) => { readonly ok: true } | { readonly ok: false; readonly error: string },
  options?: ValidationOptions,
): PropertyDecorator {
  return (target, property) => {
    registerDecorator({
      name: 'parsed',
      target: target.constructor,
      propertyName: String(property),
      options,
      validator: {
        validate: (value: unknown) => parse(value).ok,
        defaultMessage: (args) => {
          const result = parse(args?.value);
          return result.ok ? '' : result.error;
        },
      },
    });
  };
}

type Read<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly error: string };

/** The same for trees, of which only what the parser made of them goes on: nothing that it does not know is kept. */
export function ParsedInto(parse: (value: unknown) => Read<unknown>): PropertyDecorator {
  const read = Transform(({ value }: { value: unknown }) => {
    const result = parse(value);
    return result.ok ? result.value : value;
  });
  return (target, property) => {
    read(target, property);
    Parsed(parse)(target, property);
  };
}

/** A number as an address carries it: digits become a number, everything else stays what it is and is refused by what follows. */
export const WholeNumber = (): PropertyDecorator =>
  Transform(({ value }: { value: unknown }) =>
    typeof value === 'string' && /^\d{1,15}$/.test(value) ? Number(value) : value,
  );

/** Largest key of a row. */
export const MAX_ID = 2 ** 31 - 1;
