// The fields that every office has.
import { bands } from '../rating.js';
import type { Choice, Dialling, Field, FieldValue } from './field.js';

export const permissionKinds = ['asked', 'customer', 'unknown'] as const;
export type PermissionKind = (typeof permissionKinds)[number];
export const permissionWords: Record<PermissionKind, string> = {
  asked: 'asked for it',
  customer: 'customer',
  unknown: 'unknown',
};

/** How somebody agreed, when (a moment in ISO 8601, null where it is not known), where, and to what, word for word. */
export interface PermissionTerms {
  readonly permission: PermissionKind;
  readonly at: string | null;
  readonly source: string;
  readonly wording: string;
}

/** The longest wording that is kept, in UTF-16 units. */
export const WORDING_LIMIT = 2000;

/** What is written of how somebody agreed. */
export const permissionValues = ({
  permission,
  at,
  source,
  wording,
}: PermissionTerms): Readonly<Record<string, FieldValue>> => ({
  permission,
  permission_at: at,
  permission_source: source === '' ? null : source,
  permission_wording: wording === '' ? null : wording,
});

/** How well somebody is known to the office, given by hand. */
export const closenesses = ['close', 'known', 'distant'] as const;

/** Built-in fields that people fill by hand or by import, beside the address. */
export const filledKeys = [
  'given_name',
  'family_name',
  'position',
  'street',
  'postcode',
  'town',
  'region',
  'country',
  'phone',
  'more_phones',
  'more_addresses',
  'external_number',
  'stage',
  'source',
  'closeness',
] as const;

/** Built-in fields whose choices the office names. */
export const namedKeys = ['stage', 'source'] as const;
export type NamedKey = (typeof namedKeys)[number];

/** Days that are kept as moments, because they are known by the system. */
export const moments = [
  'came_in',
  'changed',
  'last_letter',
  'last_response',
  'last_contact',
] as const;
export type MomentKey = (typeof moments)[number];
export const builtInKeys = [
  'address',
  ...filledKeys,
  'owner',
  'shared_with',
  'permission',
  'rating',
  'band',
  ...moments,
] as const;
export type BuiltInKey = (typeof builtInKeys)[number];

export const isBuiltIn = (key: string): key is BuiltInKey =>
  (builtInKeys as readonly string[]).includes(key);

export const isMoment = (key: string): key is MomentKey =>
  (moments as readonly string[]).includes(key);

/** What says whose somebody is. It is for their owner, or a coordinator, to change. */
export const belongingKeys = ['owner', 'shared_with'] as const satisfies readonly BuiltInKey[];
export const isBelonging = (key: string): boolean =>
  (belongingKeys as readonly string[]).includes(key);

/** What an office says of the fields that are built in. */
export interface BuiltInWords {
  readonly owners: readonly Choice[];
  readonly dialling?: Dialling | undefined;
}

export function builtInFields({ owners, dialling }: BuiltInWords): readonly Field[] {
  const abroad = dialling ? { dialling } : {};
  return [
    { key: 'given_name', label: 'given name', type: 'text' },
    { key: 'family_name', label: 'family name', type: 'text' },
    { key: 'address', label: 'email address', type: 'text' },
    { key: 'more_addresses', label: 'further addresses', type: 'addresses' },
    { key: 'position', label: 'position', type: 'text' },
    { key: 'street', label: 'street', type: 'text' },
    { key: 'postcode', label: 'postcode', type: 'text' },
    { key: 'town', label: 'town', type: 'text' },
    { key: 'region', label: 'region', type: 'text' },
    { key: 'country', label: 'country', type: 'text' },
    { key: 'phone', label: 'phone', type: 'phone', ...abroad },
    { key: 'more_phones', label: 'further phones', type: 'phones', ...abroad },
    { key: 'external_number', label: 'external number', type: 'text' },
    { key: 'stage', label: 'stage', type: 'choice', choices: [] },
    { key: 'source', label: 'source', type: 'choice', choices: [] },
    {
      key: 'closeness',
      label: 'closeness',
      type: 'choice',
      choices: closenesses.map((key) => ({ key, label: key })),
    },
    { key: 'owner', label: 'owner', type: 'choice', choices: owners },
    { key: 'shared_with', label: 'shared with', type: 'choices', choices: owners },
    {
      key: 'permission',
      label: 'permission',
      type: 'choice',
      choices: permissionKinds.map((key) => ({ key, label: permissionWords[key] })),
    },
    { key: 'rating', label: 'rating', type: 'number', isFact: true },
    {
      key: 'band',
      label: 'rating band',
      type: 'choice',
      choices: bands.map((key) => ({ key, label: key })),
      isFact: true,
    },
    { key: 'came_in', label: 'came in', type: 'date', isFact: true },
    { key: 'changed', label: 'changed', type: 'date', isFact: true },
    { key: 'last_letter', label: 'last letter', type: 'date', isFact: true },
    { key: 'last_response', label: 'last response', type: 'date', isFact: true },
    { key: 'last_contact', label: 'last contact', type: 'date', isFact: true },
  ] satisfies readonly (Field & { key: BuiltInKey })[];
}
