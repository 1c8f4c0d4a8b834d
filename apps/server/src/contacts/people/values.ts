// Between field values and the columns of a contact: which value lives where, and the keys that go with it.
import {
  nameKey,
  parseAddress,
  searchKey,
  textKeys,
  type Field,
  type FieldValue,
} from '@palabra/core/contacts';
import type { contacts } from './people.table.js';

export type ContactRow = typeof contacts.$inferSelect;
/** What can be written to a contact by field key. */
export type Values = Readonly<Record<string, FieldValue>>;

export interface Written {
  readonly columns: Partial<ContactRow>;
  readonly before: Record<string, unknown>;
  readonly after: Record<string, unknown>;
}

const columnOf: Record<string, keyof ContactRow> = {
  given_name: 'givenName',
  family_name: 'familyName',
  address: 'address',
  town: 'town',
  region: 'region',
  postcode: 'postcode',
  country: 'country',
  stage: 'stage',
  street: 'street',
  phone: 'phone',
  position: 'position',
  source: 'source',
  closeness: 'closeness',
  owner: 'ownerId',
  permission: 'permission',
  permission_at: 'permissionAt',
  permission_source: 'permissionSource',
};

const isNameKey = (key: string): boolean => key === 'given_name' || key === 'family_name';

/** The value of a field as it is compared and shown: empty text is null, days and keys are text. */
export function valueOf(row: ContactRow, key: string): FieldValue {
  const column = columnOf[key];
  if (!column) return row.fields[key] ?? null;
  const value: unknown = row[column];
  if (value instanceof Date) return value.toISOString();
  if (value === '' || value === null || value === undefined) return null;
  return key === 'owner' && typeof value === 'number' ? String(value) : (value as FieldValue);
}

/**
 * The columns that change when `values` are written over `row` (or over nothing), with what was and
 * what will be. Undefined when nothing changes.
 */
export function write(
  row: ContactRow | undefined,
  values: Values,
  addressHash: (key: string) => Buffer,
  fields: ReadonlyMap<string, Field>,
): Written | undefined {
  const before: Record<string, unknown> = {};
  const after: Record<string, unknown> = {};
  const columns: Record<string, unknown> = {};
  const own = new Map(Object.entries(row?.fields ?? {}));
  const keys = new Map(Object.entries(row?.keys ?? {}));
  for (const [key, value] of Object.entries(values)) {
    const was = row ? valueOf(row, key) : null;
    if (was === value) continue;
    before[key] = was;
    after[key] = value;
    const column = columnOf[key];
    if (column === 'ownerId') columns[column] = Number(value);
    else if (column === 'permissionAt')
      columns[column] = value === null ? null : new Date(String(value));
    else if (column) columns[column] = value ?? (isNameKey(key) ? '' : null);
    else if (value === null) own.delete(key);
    else own.set(key, value);
    if (key === 'address') Object.assign(columns, addressColumns(value, addressHash));
    else if (fields.get(key)?.type === 'text') {
      const search = value === null ? '' : searchKey(String(value));
      if (search === '') keys.delete(key);
      else keys.set(key, search);
    }
  }
  if (Object.keys(after).length === 0) return undefined;
  const given = (columns['givenName'] ?? row?.givenName ?? '') as string;
  const family = (columns['familyName'] ?? row?.familyName ?? '') as string;
  return {
    columns: {
      ...columns,
      fields: Object.fromEntries(own),
      keys: Object.fromEntries(keys),
      searchKey: nameKey({ given, family }),
    },
    before,
    after,
  };
}

function addressColumns(
  value: FieldValue,
  addressHash: (key: string) => Buffer,
): Partial<ContactRow> {
  const parsed = parseAddress(String(value ?? ''));
  return parsed.ok
    ? {
        address: parsed.value.address,
        addressKey: parsed.value.key,
        addressHash: addressHash(parsed.value.key),
      }
    : { address: null, addressKey: null, addressHash: null };
}

/** Fields that a person's page or a new contact may set as text. */
export const editableKeys: ReadonlySet<string> = new Set<string>([
  ...textKeys,
  'address',
  'closeness',
  'owner',
]);
