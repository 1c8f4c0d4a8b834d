import type {
  FieldLine,
  LetterHappening,
  LetterState,
  PersonReply,
  PersonRow,
  TimelineEntry,
} from '@palabra/contract/contacts';
import type { NoteReply, TaskReply } from '@palabra/contract/notes';
import {
  formatFieldValue,
  splitKeys,
  type Field,
  type FieldValue,
  type HappeningKind,
} from '@palabra/core/contacts';
import type { ChangeItem } from '../changes/changes.store.js';
import type { Viewer } from '@palabra/core/office';
import { mayTakeOff, noteFor, type DoNotMailEntry } from '../standing/do-not-mail.store.js';
import type { PersonLine } from './people.store.js';
import type { Happened, TimelineRow } from './timeline.store.js';
import type { Today } from './columns.store.js';
import { owns } from './scope.store.js';
import { knownValue, type ContactRow } from './values.js';

export const personRow = (line: PersonLine): PersonRow => ({
  id: line.id,
  givenName: line.given_name,
  familyName: line.family_name,
  address: line.address,
  town: line.town,
  tags: line.tags ?? [],
  automatic: line.automatic,
  doNotMail: line.do_not_mail,
  lastResponse: line.last_response?.toISOString() ?? null,
  version: line.version,
  values: line.values,
});

/** Fields shown apart from the list of the rest. */
const apart = new Set(['permission', 'owner', 'shared_with']);

export function personReply(
  row: ContactRow,
  fields: readonly Field[],
  more: {
    tags: number[];
    pool: string;
    owner: string;
    doNotMail: DoNotMailEntry | undefined;
    droppedTopics: number[];
    viewer: Viewer;
    today: Today;
  },
): PersonReply {
  return {
    id: row.id,
    version: row.version,
    givenName: row.givenName,
    familyName: row.familyName,
    address: row.address,
    fields: fields
      .filter(({ key, isFact, since }) => (!isFact || since !== undefined) && !apart.has(key))
      .map((field): FieldLine => ({ field, value: knownValue(row, field, more.today) })),
    tags: more.tags,
    pool: more.pool,
    owner: { id: row.ownerId, name: more.owner },
    sharedWith: splitKeys(row.sharedWith ?? '').map(Number),
    isOwn: owns(more.viewer, row),
    permission: {
      kind: row.permission,
      at: row.permissionAt?.toISOString() ?? null,
      source: row.permissionSource,
      wording: row.permissionWording,
    },
    doNotMail: more.doNotMail
      ? {
          reason: more.doNotMail.reason,
          at: more.doNotMail.at.toISOString(),
          note: noteFor(more.doNotMail, more.viewer),
          mayTakeOff: mayTakeOff(more.doNotMail, more.viewer),
        }
      : null,
    droppedTopics: more.droppedTopics,
    softBounces: row.softBounces,
    unreadBounces: row.unreadBounces,
    counts: { delivered: row.deliveredCount, opened: row.openedCount, clicked: row.clickedCount },
    createdAt: row.createdAt.toISOString(),
  };
}

/** Names of what a change was about. */
interface TimelineWords {
  readonly fields: ReadonlyMap<string, Field>;
  readonly tags: ReadonlyMap<number, string>;
}

/** What a field was and became; of who came in with a change there is nothing before. */
function fromTo(
  field: Field | undefined,
  kept: Kept,
): { readonly from: string | null; readonly to: string | null } {
  if (!field || !kept?.before || !Object.hasOwn(kept.before, field.key))
    return { from: null, to: null };
  const words = (values: Readonly<Record<string, unknown>>): string =>
    formatFieldValue(field, (values[field.key] ?? null) as FieldValue);
  return { from: words(kept.before), to: words(kept.after) };
}

/** What of a happening is named beside the words of its change. */
const names: { readonly [K in HappeningKind]: 'its tag' | 'its field' | 'itself' | 'nothing' } = {
  'came in': 'nothing',
  deleted: 'nothing',
  'brought back': 'nothing',
  'tag put on': 'its tag',
  'tag taken off': 'its tag',
  stage: 'itself',
  owner: 'itself',
  pool: 'itself',
  permission: 'itself',
  address: 'itself',
  'put on do not mail': 'nothing',
  'taken off do not mail': 'nothing',
  changed: 'its field',
};

/** What the source of letters says of one. */
interface LetterTold {
  readonly sentAt: string | null;
  readonly done: readonly LetterHappening[];
  readonly further: number;
}

/** What a change kept of the person, as long as it can be taken back. */
type Kept = Pick<ChangeItem, 'before' | 'after'> | undefined;

export function timelineEntry(row: TimelineRow, words: TimelineWords, kept: Kept): TimelineEntry {
  const base = { key: row.key, at: row.at.toISOString() };
  if (row.kind === 'changed') {
    const happened = (row.more ?? []) as Happened;
    return {
      ...base,
      kind: 'changed',
      what: row.detail ?? 'changed',
      who: row.who,
      fields: happened.flatMap(([kind, which]) => {
        if (names[kind] !== 'its field' && names[kind] !== 'itself') return [];
        const key = names[kind] === 'itself' ? kind : which;
        const field = words.fields.get(key);
        return [{ label: field?.label ?? key.replaceAll('_', ' '), ...fromTo(field, kept) }];
      }),
      tags: happened.flatMap(([kind, which]) =>
        names[kind] === 'its tag'
          ? [
              {
                name: words.tags.get(Number(which)) ?? 'a tag that is gone',
                put: kind === 'tag put on',
              },
            ]
          : [],
      ),
    };
  }
  // What these are is made by whoever keeps them.
  if (row.kind === 'note') return { ...base, kind: 'note', note: row.more as NoteReply };
  if (row.kind === 'task') return { ...base, kind: 'task', task: row.more as TaskReply };
  if (row.kind === 'came in') return { ...base, kind: 'came in', source: row.detail };
  const { sentAt = null, done = [], further = 0 } = (row.more ?? {}) as Partial<LetterTold>;
  return {
    ...base,
    kind: 'letter',
    campaign: { id: row.campaign_id ?? 0, name: row.campaign ?? 'a campaign' },
    state: row.state as LetterState,
    sentAt: sentAt && new Date(sentAt).toISOString(),
    detail: row.detail,
    happened: done,
    further,
  };
}
