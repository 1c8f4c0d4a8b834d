// What can be done to many people at once, beside tagging them: one entry per kind, which reads it and says it in words.
import { fail, ok, type Result } from '../kernel/index.js';
import {
  formatFieldValue,
  parseFieldValue,
  permissionKinds,
  permissionWords,
  textKeys,
  type Field,
  type FieldValue,
  type PermissionKind,
} from './fields.js';
import { oneLine } from './text.js';

interface Deeds {
  /** A field set to a value, or cleared. */
  field: { readonly field: string; readonly value: FieldValue };
  permission: { readonly permission: PermissionKind; readonly source: string };
  delete: object;
}
export type DeedName = keyof Deeds;
export type Deed = { [K in DeedName]: { readonly kind: K } & Deeds[K] }[DeedName];
type DeedOf<K extends DeedName> = Extract<Deed, { readonly kind: K }>;

interface DeedKind<K extends DeedName> {
  readonly parse: (
    raw: Readonly<Record<string, unknown>>,
    fields: ReadonlyMap<string, Field>,
  ) => Result<DeedOf<K>, string>;
  /** As the activity log says it. */
  readonly words: (deed: DeedOf<K>, fields: ReadonlyMap<string, Field>) => string;
}

/** What names one person, or is known by the system, is not set for many. */
const forMany = ({ key, isFact }: Field): boolean =>
  !isFact &&
  ((textKeys as readonly string[]).includes(key)
    ? key !== 'given_name' && key !== 'family_name' && key !== 'phone'
    : key === 'owner' || key === 'closeness' || key.startsWith('own_'));

export const fieldsForMany = (fields: readonly Field[]): Field[] => fields.filter(forMany);

const kinds: { readonly [K in DeedName]: DeedKind<K> } = {
  field: {
    parse: (raw, fields) => {
      const field = typeof raw['field'] === 'string' ? fields.get(raw['field']) : undefined;
      if (!field || !forMany(field))
        return fail('This field can’t be set for many people at once.');
      const text = raw['text'];
      if (typeof text !== 'string')
        return fail(`${field.label} needs a text; an empty one clears it.`);
      const value = parseFieldValue(field, text);
      if (!value.ok) return value;
      if (field.key === 'owner' && value.value === null) return fail('Everybody has an owner.');
      return ok({ kind: 'field', field: field.key, value: value.value });
    },
    words: ({ field: key, value }, fields) => {
      const field = fields.get(key);
      const label = field?.label ?? 'a field that is gone';
      return value === null || !field
        ? `cleared ${label}`
        : `set ${label} to “${formatFieldValue(field, value)}”`;
    },
  },
  permission: {
    parse: (raw) => {
      const permission = permissionKinds.find((kind) => kind === raw['permission']);
      const source = raw['source'];
      if (!permission) return fail('This kind of permission is not known.');
      if (typeof source !== 'string' || source.length > 200)
        return fail('Say in at most 200 signs where they agreed.');
      return ok({ kind: 'permission', permission, source: oneLine(source) });
    },
    words: ({ permission }) => `set permission to “${permissionWords[permission]}”`,
  },
  delete: { parse: () => ok({ kind: 'delete' }), words: () => 'deleted' },
};

type AnyKind = DeedKind<DeedName>;
const kindOf = (name: DeedName): AnyKind => kinds[name] as unknown as AnyKind;

export function parseDeed(raw: unknown, fields: ReadonlyMap<string, Field>): Result<Deed, string> {
  const object = typeof raw === 'object' && raw !== null ? (raw as Record<string, unknown>) : {};
  const name = (Object.keys(kinds) as DeedName[]).find((kind) => kind === object['kind']);
  return name
    ? kindOf(name).parse(object, fields)
    : fail('This can’t be done to many people at once.');
}

export const deedWords = (deed: Deed, fields: ReadonlyMap<string, Field>): string =>
  kindOf(deed.kind).words(deed, fields);
