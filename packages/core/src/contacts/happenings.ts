// What of a change stays for good: that it happened, to whom, when and by whom, and which tag or field it was. The
// values before go after a while; timelines, and rules such as “tagged within”, read happenings.

import { idOf } from '../kernel/index.js';
import type { TagId } from './tags.js';

/** What can happen to a contact; `which` says of which tag or field. */
export const happeningKinds = [
  'came in',
  'deleted',
  'brought back',
  'tag put on',
  'tag taken off',
  'stage',
  'owner',
  'pool',
  'permission',
  'address',
  'put on do not mail',
  'taken off do not mail',
  /** Any other field. */
  'changed',
] as const;
export type HappeningKind = (typeof happeningKinds)[number];

export interface Happening {
  readonly kind: HappeningKind;
  /** The tag’s key, or the field's. Empty where the kind says all. */
  readonly which: string;
}

/** How a tag stands in what is remembered of a change. */
export const tagMark = (tag: TagId): string => `tag_${tag}`;

/** The tag behind a mark, or undefined for any other key. */
export function markedTag(key: string): TagId | undefined {
  const found = /^tag_([1-9]\d{0,9})$/.exec(key);
  return found ? idOf(Number(found[1])) : undefined;
}

const ofField: Readonly<Record<string, HappeningKind>> = {
  stage: 'stage',
  owner: 'owner',
  pool: 'pool',
  address: 'address',
  permission: 'permission',
  // When and where somebody agreed belongs to how they agreed.
  permission_at: 'permission',
  permission_source: 'permission',
  permission_wording: 'permission',
};

/**
 * What happened, by what a change remembers of one contact: fields by their key, tags by their mark.
 * `before` is null where the contact came in; of the fields it came with nothing happened.
 */
export function happeningsOf(
  before: Readonly<Record<string, unknown>> | null,
  after: Readonly<Record<string, unknown>>,
): Happening[] {
  const found = new Map<string, Happening>();
  const add = (kind: HappeningKind, which = ''): void => {
    found.set(`${kind} ${which}`, { kind, which });
  };
  if (before === null) add('came in');
  for (const [key, value] of Object.entries(after)) {
    const tag = markedTag(key);
    if (tag !== undefined) add(value === true ? 'tag put on' : 'tag taken off', String(tag));
    else if (before === null) continue;
    else if (key === 'deleted') add(value === true ? 'deleted' : 'brought back');
    else if (key === 'do_not_mail')
      add(value === true ? 'put on do not mail' : 'taken off do not mail');
    else {
      const kind = ofField[key];
      if (kind) add(kind);
      else add('changed', key);
    }
  }
  return [...found.values()];
}
