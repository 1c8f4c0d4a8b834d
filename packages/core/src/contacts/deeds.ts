// What can be done to many people at once, beside tagging them: one entry per kind, which reads it and says it in words.
import { fail, ok, type Result } from '../kernel/index.js';
import {
  filledKeys,
  isBelonging,
  permissionKinds,
  permissionWords,
  WORDING_LIMIT,
  type PermissionKind,
} from './fields/built-in.js';
import type { Field, FieldValue } from './fields/field.js';
import { formatFieldValue } from './fields/index.js';
import { parseFieldValue } from './fields/reading.js';
import { manyLines, oneLine } from './text.js';
import type { PoolId } from './mail.js';

interface Deeds {
  /** A field set to a value, or cleared. */
  field: { readonly field: string; readonly value: FieldValue };
  permission: {
    readonly permission: PermissionKind;
    readonly source: string;
    /** What they agreed to, word for word. */
    readonly wording?: string;
  };
  pool: { readonly pool: PoolId };
  /** Shared with a colleague, by the key of the account, or no longer. */
  share: { readonly colleague: string; readonly put: boolean };
  delete: object;
}
export type DeedName = keyof Deeds;
export type Deed = { [K in DeedName]: { readonly kind: K } & Deeds[K] }[DeedName];
type DeedOf<K extends DeedName> = Extract<Deed, { readonly kind: K }>;

/** What deeds are read against. */
export interface DeedContext {
  readonly fields: ReadonlyMap<string, Field>;
  readonly pools: readonly { readonly id: PoolId; readonly name: string }[];
}

interface DeedKind<K extends DeedName> {
  readonly parse: (
    raw: Readonly<Record<string, unknown>>,
    context: DeedContext,
  ) => Result<DeedOf<K>, string>;
  /** As the activity log says it. */
  readonly words: (deed: DeedOf<K>, context: DeedContext) => string;
}

/** What is about one person only. */
const ofOne: ReadonlySet<string> = new Set([
  'given_name',
  'family_name',
  'phone',
  'more_phones',
  'more_addresses',
  'external_number',
]);

/** What names one person, or is known by the system, is not set for many. */
const forMany = ({ key, isFact }: Field): boolean =>
  !isFact &&
  !ofOne.has(key) &&
  ((filledKeys as readonly string[]).includes(key) || key === 'owner' || key.startsWith('own_'));

export const fieldsForMany = (fields: readonly Field[]): Field[] => fields.filter(forMany);

const kinds: { readonly [K in DeedName]: DeedKind<K> } = {
  field: {
    parse: (raw, { fields }) => {
      const field = typeof raw['field'] === 'string' ? fields.get(raw['field']) : undefined;
      if (!field || !forMany(field))
        return fail('This field can’t be set for many people at once.');
      const text = raw['text'];
      if (typeof text !== 'string')
        return fail(`${field.label} needs a text; an empty one clears it.`);
      const value = parseFieldValue(field, text);
      if (!value.ok) return value;
      if (field.key === 'owner' && value.value === null) return fail('Everybody has an owner.');
      if (field.isRequired && value.value === null)
        return fail(`${field.label} is required, and can’t be cleared.`);
      return ok({ kind: 'field', field: field.key, value: value.value });
    },
    words: ({ field: key, value }, { fields }) => {
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
      const { source, wording = '' } = raw;
      if (!permission) return fail('This kind of permission is not known.');
      if (typeof source !== 'string' || source.length > 200)
        return fail('Say in at most 200 signs where they agreed.');
      if (typeof wording !== 'string' || wording.length > WORDING_LIMIT)
        return fail(`The wording they agreed to has at most ${WORDING_LIMIT} signs.`);
      return ok({
        kind: 'permission',
        permission,
        source: oneLine(source),
        wording: manyLines(wording),
      });
    },
    words: ({ permission }) => `set permission to “${permissionWords[permission]}”`,
  },
  pool: {
    parse: (raw, { pools }) => {
      const pool = pools.find(({ id }) => id === raw['pool']);
      return pool
        ? ok({ kind: 'pool', pool: pool.id })
        : fail('This pool is not there any more. Choose another one.');
    },
    words: ({ pool }, { pools }) =>
      `moved to the pool “${pools.find(({ id }) => id === pool)?.name ?? 'that is gone'}”`,
  },
  share: {
    parse: (raw, { fields }) => {
      const { colleague, put } = raw;
      const { choices = [] } = fields.get('shared_with') ?? {};
      if (!choices.some(({ key }) => key === colleague))
        return fail('This colleague is not there any more. Choose another one.');
      if (typeof put !== 'boolean') return fail('Say whether to share, or to share no longer.');
      return ok({ kind: 'share', colleague: String(colleague), put });
    },
    words: ({ colleague, put }, { fields }) => {
      const known = fields.get('shared_with')?.choices?.find(({ key }) => key === colleague);
      const name = known?.label ?? 'a colleague who is gone';
      return put ? `shared with ${name}` : `no longer shared with ${name}`;
    },
  },
  delete: { parse: () => ok({ kind: 'delete' }), words: () => 'deleted' },
};

type AnyKind = DeedKind<DeedName>;
const kindOf = (name: DeedName): AnyKind => kinds[name] as unknown as AnyKind;

/** The field that a deed sets, if it is one that does. */
export const fieldOfDeed = (deed: Deed): string | undefined =>
  deed.kind === 'field' ? deed.field : deed.kind === 'share' ? 'shared_with' : undefined;

/** Why a deed left people as they are who were meant. */
export const whyLeft = ({ kind }: Deed): string =>
  kind === 'pool'
    ? 'somebody else there has their address or number'
    : 'only their owner or a coordinator does this';

/** What is done to people whom one owns, not to those whom a colleague shares. */
export const isForOwners = (deed: Deed): boolean =>
  deed.kind === 'field' ? isBelonging(deed.field) : forOwners[deed.kind];

const forOwners: { readonly [K in Exclude<DeedName, 'field'>]: boolean } = {
  permission: false,
  pool: true,
  share: true,
  delete: true,
};

export function parseDeed(raw: unknown, context: DeedContext): Result<Deed, string> {
  const object = typeof raw === 'object' && raw !== null ? (raw as Record<string, unknown>) : {};
  const name = (Object.keys(kinds) as DeedName[]).find((kind) => kind === object['kind']);
  return name
    ? kindOf(name).parse(object, context)
    : fail('This can’t be done to many people at once.');
}

export const deedWords = (deed: Deed, context: DeedContext): string =>
  kindOf(deed.kind).words(deed, context);
