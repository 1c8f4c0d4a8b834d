// Between field values and the columns of a contact: which value lives where, and the keys that go with it.
import {
  belongingKeys,
  filledKeys,
  isMoment,
  isText,
  lines,
  nameKey,
  parseAddress,
  parseFieldValue,
  shownAddressKey,
  since,
  textKey,
  type Field,
  type FieldValue,
  type MomentKey,
} from '@palabra/core/contacts';
import { dayIn, isDay } from '@palabra/core/office';
import type { Today } from './columns.store.js';
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
  more_phones: 'morePhones',
  more_addresses: 'moreAddresses',
  external_number: 'externalNumber',
  position: 'position',
  source: 'source',
  closeness: 'closeness',
  owner: 'ownerId',
  shared_with: 'sharedWith',
  rating: 'rating',
  band: 'band',
  pool: 'poolId',
  permission: 'permission',
  permission_at: 'permissionAt',
  permission_source: 'permissionSource',
  permission_wording: 'permissionWording',
};

/** Kept as the key of a row. */
const isKey = (key: string): boolean => key === 'owner' || key === 'pool';
const isNameKey = (key: string): boolean => key === 'given_name' || key === 'family_name';

/** The value of a field as it is compared and shown: empty text is null, days and keys are text. */
export function valueOf(row: ContactRow, key: string): FieldValue {
  const column = columnOf[key];
  if (!column) return row.fields[key] ?? null;
  const value: unknown = row[column];
  if (value instanceof Date) return value.toISOString();
  if (value === '' || value === null || value === undefined) return null;
  return isKey(key) && typeof value === 'number' ? String(value) : (value as FieldValue);
}

const momentIn: { readonly [K in MomentKey]: (row: ContactRow) => Date | null } = {
  came_in: (row) => row.createdAt,
  changed: (row) => row.updatedAt,
  last_letter: (row) => row.lastSentAt,
  last_response: ({ lastOpenedAt, lastClickedAt }) =>
    lastOpenedAt && lastClickedAt && lastClickedAt > lastOpenedAt
      ? lastClickedAt
      : (lastOpenedAt ?? lastClickedAt),
  last_contact: (row) => row.lastContactAt,
};

/** The value of any field, of what is known and computed, too: moments as days of the office. */
export function knownValue(
  row: ContactRow,
  { key, since: counted }: Pick<Field, 'key' | 'since'>,
  today: Today,
): FieldValue {
  if (counted) {
    const day = knownValue(row, { key: counted.day }, today);
    return typeof day === 'string' && isDay(day) ? since(counted.unit, day, today.today) : null;
  }
  if (!isMoment(key)) return valueOf(row, key);
  const at = momentIn[key](row);
  return at && dayIn(today.timeZone, at);
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
    const field = fields.get(key);
    const isKeyed = field !== undefined && key !== 'address';
    const search = isKeyed && isText(field) && value !== null ? textKey(field, String(value)) : '';
    // What is the same text may have another key: its field was of another type.
    if (was === value && (!isKeyed || search === (keys.get(key) ?? ''))) continue;
    before[key] = was;
    after[key] = value;
    const column = columnOf[key];
    if (column && isKey(key)) columns[column] = Number(value);
    else if (column === 'permissionAt')
      columns[column] = value === null ? null : new Date(String(value));
    else if (column) columns[column] = value ?? (isNameKey(key) ? '' : null);
    else if (value === null) own.delete(key);
    else own.set(key, value);
    if (key === 'address') {
      const own = addressColumns(value, addressHash);
      Object.assign(columns, own);
      const shown = shownKey(own);
      if (shown === '') keys.delete(key);
      else keys.set(key, shown);
    }
    if (key === 'more_addresses') Object.assign(columns, furtherColumns(value, addressHash));
    if (!isKeyed) continue;
    if (search === '') keys.delete(key);
    else keys.set(key, search);
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

/** How an address is looked for as it is shown; empty where that is its key. */
export function shownKey({
  address,
  addressKey,
}: Pick<ContactRow, 'address' | 'addressKey'>): string {
  const shown = shownAddressKey(address ?? '');
  return shown === addressKey ? '' : shown;
}

function addressColumns(
  value: FieldValue,
  addressHash: (key: string) => Buffer,
): Pick<ContactRow, 'address' | 'addressKey' | 'addressHash'> {
  const parsed = parseAddress(String(value ?? ''));
  return parsed.ok
    ? {
        address: parsed.value.address,
        addressKey: parsed.value.key,
        addressHash: addressHash(parsed.value.key),
      }
    : { address: null, addressKey: null, addressHash: null };
}

function furtherColumns(
  value: FieldValue,
  addressHash: (key: string) => Buffer,
): Pick<ContactRow, 'moreKeys' | 'moreHashes'> {
  const moreKeys = lines(String(value ?? '')).flatMap((line) => {
    const parsed = parseAddress(line);
    return parsed.ok ? [parsed.value.key] : [];
  });
  return { moreKeys, moreHashes: moreKeys.map(addressHash) };
}

/** What of a person belongs to nobody else of their pool. */
export interface Claims {
  readonly addressKeys: readonly string[];
  readonly externalKey: string | undefined;
}

export const claimsOf = (
  row: Partial<Pick<ContactRow, 'addressKey' | 'moreKeys' | 'keys'>>,
): Claims => ({
  addressKeys: [...(row.addressKey ? [row.addressKey] : []), ...(row.moreKeys ?? [])],
  externalKey: row.keys?.['external_number'],
});

/** What somebody new has where nothing else is said. */
export const standardValues = (fields: ReadonlyMap<string, Field>): Values =>
  Object.fromEntries(
    [...fields.values()].flatMap((field) => {
      if (field.standard === undefined) return [];
      const value = parseFieldValue(field, field.standard);
      return value.ok && value.value !== null ? [[field.key, value.value]] : [];
    }),
  );

/** Fields that a person's page or a new contact may set as text. */
export const editableKeys: ReadonlySet<string> = new Set<string>([
  ...filledKeys,
  'address',
  ...belongingKeys,
]);
