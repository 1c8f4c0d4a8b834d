// The office's fields in tests.
import type { FieldReply } from '@palabra/contract/contacts';
import type { TestServer } from './server.js';

type Caller = Pick<TestServer, 'call'>;

export async function definedField({ call }: Caller, key: string): Promise<FieldReply> {
  const { body } = await call('GET', '/api/fields');
  const found = (body as unknown as FieldReply[]).find(({ field }) => field.key === key);
  if (!found) throw new Error(`no field ${key}`);
  return found;
}

/** What a field is described by, as it is now. */
export async function described(caller: Caller, key: string) {
  const { field, version } = await definedField(caller, key);
  return {
    version,
    label: field.label,
    help: field.help ?? '',
    group: field.group ?? '',
    isRequired: field.isRequired ?? false,
    standard: field.standard ?? '',
    ...(field.choices
      ? {
          choices: field.choices
            .filter(({ isGone }) => !isGone)
            .map(({ key: own, label }) => ({ key: own, label })),
        }
      : {}),
    ...(field.currency ? { currency: field.currency } : {}),
    ...(field.since ? { since: field.since } : {}),
  };
}

export const nameChoices = async (caller: Caller, key: string, labels: readonly string[]) =>
  caller.call('PUT', `/api/fields/${key}`, {
    ...(await described(caller, key)),
    choices: labels.map((label) => ({ label })),
  });
