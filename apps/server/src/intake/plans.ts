// What is said of a file before it comes in: checked, kept as it is said, and begun from.
import type { ImportPlan, PlanRequest } from '@palabra/contract/intake';
import {
  manyLines,
  oneLine,
  parseFieldValue,
  type Field,
  type PoolId,
  type TagId,
} from '@palabra/core/contacts';
import { waysOf, type Target } from '@palabra/core/intake';
import { idOf } from '@palabra/core/kernel';
import { seesEverybody, type UserId, type Viewer } from '@palabra/core/office';
import { allPools, allTags } from '../contacts/index.js';
import type { Db } from '../platform/database.js';
import { allUsers } from '../platform/sign-in/sign-in.store.js';
import { importable } from './importable.js';
import { refuse } from './intake.refusals.js';
import type { Import } from './intake.store.js';

type Kept = Pick<
  Import,
  | 'mapping'
  | 'matching'
  | 'poolId'
  | 'ownerId'
  | 'permission'
  | 'permissionSource'
  | 'permissionWording'
  | 'tagIds'
  | 'fixed'
  | 'tagsMeant'
  | 'owners'
  | 'fieldsMade'
>;

export const planOf = (row: Import): ImportPlan => ({
  mapping: row.mapping,
  matching: row.matching,
  poolId: row.poolId,
  ownerId: row.ownerId,
  permission: row.permission,
  source: row.permissionSource,
  wording: row.permissionWording,
  tagIds: row.tagIds,
  fixed: row.fixed,
  tagsMeant: row.tagsMeant,
  owners: row.owners,
  fieldsMade: row.fieldsMade,
});

/** The columns that are to be written, or a refusal that says what to change. What may be unfinished while one thinks is asked at the start. */
export async function keptPlan(
  db: Db,
  request: PlanRequest,
  row: Import,
  fields: ReadonlyMap<string, Field>,
  viewer: Viewer,
): Promise<Kept> {
  const { mapping } = request;
  if (mapping.length !== row.headers.length)
    throw refuse('other-columns', row.headers.length, mapping.length);
  const open = new Map(importable([...fields.values()]).map((field) => [field.key, field]));
  checkMapping(mapping, open);
  for (const [key, text] of Object.entries(request.fixed)) {
    const field = open.get(key);
    if (!field || key === 'address') throw refuse('no-such-field');
    const read = parseFieldValue(field, text);
    if (!read.ok) throw refuse('fixed-value', read.error).about(`fixed.${key}`, read.error);
  }
  const tags = await allTags(db);
  const meant = request.tagsMeant.flatMap(({ tag }) => (tag === null ? [] : [tag]));
  if (
    [...request.tagIds, ...meant].some(
      (id) => !tags.some((tag) => tag.id === id && tag.kind === 'office'),
    )
  )
    throw refuse('no-such-tag');
  if (!(await allPools(db)).some(({ id }) => id === request.poolId)) throw refuse('no-such-pool');
  await checkOwners(db, request, viewer);
  return {
    mapping,
    matching: request.matching,
    poolId: idOf<PoolId>(request.poolId),
    ownerId: idOf<UserId>(request.ownerId),
    permission: request.permission,
    permissionSource: oneLine(request.source),
    permissionWording: manyLines(request.wording),
    tagIds: [...new Set(request.tagIds)].map(idOf<TagId>),
    fixed: request.fixed,
    tagsMeant: request.tagsMeant.map(({ name, tag }) => ({
      name,
      tag: tag === null ? null : idOf<TagId>(tag),
    })),
    owners: request.owners.map(({ name, userId }) => ({ name, userId: idOf<UserId>(userId) })),
    fieldsMade: request.fieldsMade.filter((key) => open.has(key)),
  };
}

function checkMapping(mapping: readonly Target[], open: ReadonlyMap<string, Field>): void {
  const filled: string[] = [];
  for (const target of mapping) {
    if (target.to === 'name') filled.push('given_name', 'family_name');
    if (target.to !== 'field') continue;
    const field = open.get(target.field);
    if (!field) throw refuse('no-such-field');
    filled.push(field.key);
    if (
      target.way &&
      target.way === 'add' &&
      field.key !== 'address' &&
      !waysOf(field.type).includes('add')
    )
      throw refuse('way-of-field', field.label);
  }
  const twice = filled.find((field, at) => filled.indexOf(field) !== at);
  if (twice) throw refuse('field-twice', open.get(twice)?.label ?? twice);
}

async function checkOwners(
  db: Db,
  { ownerId, owners, mapping }: PlanRequest,
  viewer: Viewer,
): Promise<void> {
  if (!seesEverybody(viewer.role)) {
    if (ownerId !== viewer.userId || owners.length > 0 || mapping.some(({ to }) => to === 'owner'))
      throw refuse('not-theirs');
    return;
  }
  const open = new Set(
    (await allUsers(db)).flatMap(({ id, closedAt }) => (closedAt === null ? [Number(id)] : [])),
  );
  if (![ownerId, ...owners.map(({ userId }) => userId)].every((id) => open.has(id)))
    throw refuse('no-such-owner');
}

/** What decides over what the rows do; the rest is written down with them. */
const deciding = [
  'mapping',
  'matching',
  'poolId',
  'permission',
  'tagIds',
  'fixed',
  'tagsMeant',
  'owners',
] as const satisfies readonly (keyof Kept)[];

/** Whether rows may do something else by what is said now. */
export const wouldDoElse = (before: Kept, now: Kept): boolean =>
  deciding.some((key) => JSON.stringify(before[key]) !== JSON.stringify(now[key]));

/** What must be said before it comes in. */
export function checkStart({ mapping, matching, permission, permissionSource }: Import): void {
  const has = (field: string): boolean =>
    mapping.some((target) => target.to === 'field' && target.field === field);
  if (matching === 'external number' && !has('external_number')) throw refuse('no-number-column');
  if (matching === 'address' && !has('address')) throw refuse('no-address-column');
  if (permission !== 'unknown' && permissionSource === '')
    throw refuse('no-source').about('source', 'Say where and how these people agreed.');
}
