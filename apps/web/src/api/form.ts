// A form's half-typed input, checked by the same class as on the server, and the server's objections beside the fields.
import { useForm, type UseFormReturnType } from '@mantine/form';
import { validate } from 'class-validator';
import { useState, type SyntheticEvent } from 'react';
import { problemOf } from './problems';

type Values = Record<string, string | number | boolean>;

export interface ContractForm<T extends Values> extends UseFormReturnType<T> {
  /** What is wrong with no single field. */
  readonly general: string | undefined;
  /** For the `onSubmit` of the form. */
  readonly send: (event: SyntheticEvent<HTMLFormElement>) => void;
}

interface FormOptions<T extends Values, R extends object> {
  /** The request's class in the contract. */
  readonly request: new () => R;
  readonly initial: T;
  /** The request made of what was typed; what it is without this has the same names. */
  readonly asRequest?: (values: T) => Partial<R>;
  /** Rejects with the server's problem. */
  readonly send: (request: R, values: T) => Promise<unknown>;
}

/** Words about each field that is not as the contract wants it, by the field's name. */
async function objections(request: object): Promise<Record<string, string>> {
  const found = await validate(request, { forbidUnknownValues: false });
  return Object.fromEntries(
    found.map(({ property, constraints }) => [
      property,
      Object.values(constraints ?? {}).at(-1) ?? 'This can’t be taken as it is.',
    ]),
  );
}

export function useContractForm<T extends Values, R extends object>({
  request,
  initial,
  asRequest,
  send,
}: FormOptions<T, R>): ContractForm<T> {
  const [general, setGeneral] = useState<string>();
  const form = useForm<T>({ initialValues: initial });
  const run = async (values: T): Promise<void> => {
    setGeneral(undefined);
    const made = Object.assign(new request(), asRequest ? asRequest(values) : values) as R;
    const wrong = await objections(made);
    if (Object.keys(wrong).some((name) => Object.hasOwn(values, name)))
      return form.setErrors(wrong);
    try {
      // A plain object: what is of a class isn't written as JSON.
      await send({ ...made }, values);
    } catch (error) {
      const problem = problemOf(error);
      const byField = Object.fromEntries(
        (problem.errors ?? []).map(({ path, message }) => [path.replace(/^values\./, ''), message]),
      );
      form.setErrors(byField);
      if (!Object.keys(byField).some((name) => Object.hasOwn(values, name)))
        setGeneral(problem.detail);
    }
  };
  return { ...form, general, send: form.onSubmit(run) };
}
