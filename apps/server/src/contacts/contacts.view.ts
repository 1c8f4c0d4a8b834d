import type {
  FieldLine,
  LetterKind,
  PersonReply,
  PersonRow,
  TimelineEntry,
} from '@palabra/contract/contacts';
import type { Field } from '@palabra/core/contacts';
import type { Viewer } from '@palabra/core/office';
import { mayTakeOff, noteFor, type DoNotMailEntry } from './do-not-mail.store.js';
import type { PersonLine } from './people.store.js';
import type { TimelineRow } from './timeline.store.js';
import { valueOf, type ContactRow } from './values.js';

export const personRow = (line: PersonLine): PersonRow => ({
  id: line.id,
  givenName: line.given_name,
  familyName: line.family_name,
  address: line.address,
  town: line.town,
  tags: line.tags ?? [],
  doNotMail: line.do_not_mail,
  lastResponse: line.last_response?.toISOString() ?? null,
});

/** Fields shown apart from the list of the rest. */
const apart = new Set(['permission', 'came_in', 'owner']);

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
  },
): PersonReply {
  return {
    id: row.id,
    version: row.version,
    givenName: row.givenName,
    familyName: row.familyName,
    address: row.address,
    fields: fields
      .filter(({ key }) => !apart.has(key))
      .map((field): FieldLine => ({ field, value: valueOf(row, field.key) })),
    tags: more.tags,
    pool: more.pool,
    owner: { id: row.ownerId, name: more.owner },
    permission: {
      kind: row.permission,
      at: row.permissionAt?.toISOString() ?? null,
      source: row.permissionSource,
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
    counts: { sent: row.sentCount, opened: row.openedCount, clicked: row.clickedCount },
    createdAt: row.createdAt.toISOString(),
  };
}

const letterKinds: ReadonlySet<string> = new Set<LetterKind>([
  'sent',
  'opened',
  'clicked',
  'left',
  'bounced',
  'held back',
  'came back',
  'complained',
  'replied',
  'replied by itself',
  'chose topics',
  'changed own data',
]);

export function timelineEntry(
  row: TimelineRow,
  labels: ReadonlyMap<string, string>,
): TimelineEntry {
  const base = { key: row.key, at: row.at.toISOString() };
  if (row.kind === 'changed') {
    const fields = (row.fields ?? [])
      .filter((key) => !key.startsWith('tag_'))
      .map((key) => labels.get(key) ?? key.replaceAll('_', ' '));
    return { ...base, kind: 'changed', what: row.detail ?? 'changed', who: row.who, fields };
  }
  if (row.kind === 'came in') return { ...base, kind: 'came in', source: row.detail };
  return {
    ...base,
    kind: letterKinds.has(row.kind) ? (row.kind as LetterKind) : 'waiting',
    campaign: { id: row.campaign_id ?? 0, name: row.campaign ?? 'a campaign' },
    detail: row.detail,
    machine: row.machine,
  };
}
