// A form's half-typed input, and the server's objections beside the fields they are about.
import { useState, type SyntheticEvent } from 'react';
import { problemOf } from '../app/api';

interface FieldProps {
  readonly value: string;
  readonly onChange: (event: { currentTarget: { value: string } }) => void;
  readonly error: string | undefined;
}

export interface Form<T extends Record<string, string>> {
  readonly values: T;
  readonly general: string | undefined;
  readonly busy: boolean;
  readonly set: (name: keyof T, value: string) => void;
  readonly field: (name: keyof T & string) => FieldProps;
  readonly submit: (event: SyntheticEvent) => void;
}

/** `send` may set fields once it is through; it rejects with the server's problem; its errors are shown at the fields named `path`. */
export function useForm<T extends Record<string, string>>(
  initial: T,
  send: (values: T, set: Form<T>['set']) => Promise<unknown>,
): Form<T> {
  const [values, setValues] = useState(initial);
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [general, setGeneral] = useState<string>();
  const [busy, setBusy] = useState(false);
  const set = (name: keyof T, value: string): void => {
    setValues((before) => ({ ...before, [name]: value }));
    setErrors(({ [name as string]: _, ...rest }) => rest);
  };
  const run = async (): Promise<void> => {
    setBusy(true);
    setGeneral(undefined);
    setErrors({});
    try {
      await send(values, set);
    } catch (error) {
      const problem = problemOf(error);
      const byField = Object.fromEntries(
        (problem.errors ?? []).map(({ path, message }) => [path.replace(/^values\./, ''), message]),
      );
      setErrors(byField);
      if (!Object.keys(byField).some((name) => name in initial)) setGeneral(problem.detail);
    } finally {
      setBusy(false);
    }
  };
  return {
    values,
    general,
    busy,
    set,
    field: (name) => ({
      value: values[name] ?? '',
      onChange: (event) => set(name, event.currentTarget.value),
      error: errors[name],
    }),
    submit: (event) => {
      event.preventDefault();
      void run();
    },
  };
}
