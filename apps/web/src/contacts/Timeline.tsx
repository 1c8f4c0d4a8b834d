// What happened with one person, latest first: everything or a part of it, from any day backwards.
import { timelineParts, type TimelineEntry, type TimelinePart } from '@palabra/contract/contacts';
import { momentOf } from '@palabra/core/office';
import { lazy, Suspense, useState, type ReactNode } from 'react';
import { useOffice } from '../office';
import { Row, Rows } from '../ui/Rows';
import { Empty, Ghost, Wrong } from '../ui/states';
import { Act, sentence, Soft } from '../ui/text';
import { dayAndClock } from '../ui/time';
import { Words } from '../ui/Words';
import { useTimelineInfiniteQuery } from './contacts.api';
import classes from './contacts.module.css';
import { LetterEntry } from './LetterEntry';

/** Entries that whoever keeps them shows. */
export type Kept = Extract<TimelineEntry, { kind: 'note' | 'task' }>;

const Day = lazy(async () => ({ default: (await import('../ui/Day')).Day }));

const names: Readonly<Record<TimelinePart, string>> = {
  letters: 'letters',
  notes: 'notes and tasks',
  changes: 'changes',
};

interface TimelineProps {
  readonly id: number;
  readonly keptEntry: (entry: Kept) => ReactNode;
}

export function Timeline({ id, keptEntry }: TimelineProps) {
  const [part, setPart] = useState<TimelinePart | 'everything'>('everything');
  const [until, setUntil] = useState('');
  const { office } = useOffice();
  const found = useTimelineInfiniteQuery({
    id,
    part: part === 'everything' ? undefined : part,
    until: until === '' ? undefined : endOf(office.timeZone, until),
  });
  const entries = found.currentData?.pages.flatMap((page) => page.entries);
  return (
    <section aria-label="What happened">
      <div className={classes.parts}>
        <Words
          label="Show"
          value={part}
          options={[
            'everything',
            ...timelineParts.map((one) => ({ value: one, label: names[one] })),
          ]}
          onChange={setPart}
        />
        <span>
          <Soft>until</Soft>{' '}
          <Suspense fallback={null}>
            <Day label="Until which day" nothing="today" value={until} onChange={setUntil} />
          </Suspense>
        </span>
      </div>
      {found.isError && <Wrong error={found.error} again={() => void found.refetch()} />}
      {!entries && !found.isError && <Ghost lines={6} />}
      {entries?.length === 0 && (
        <Empty title={part === 'everything' && until === '' ? 'Nothing yet' : 'Nothing of that'}>
          What this person does with your letters, what you write down and what you change is listed
          in this place.
        </Empty>
      )}
      <Rows ordered label="What happened">
        {entries?.map((entry) => (
          <Row key={entry.key + entry.at} when={dayAndClock(office.timeZone, entry.at)}>
            <Entry entry={entry} keptEntry={keptEntry} />
          </Row>
        ))}
      </Rows>
      {found.hasNextPage && (
        <Act loading={found.isFetchingNextPage} onClick={() => void found.fetchNextPage()}>
          Earlier
        </Act>
      )}
    </section>
  );
}

/** The end of a day of the office, as the server reads it. */
const endOf = (timeZone: string, day: string): string | undefined =>
  momentOf(timeZone, `${day}T23:59`)?.at.toISOString();

function Entry({
  entry,
  keptEntry,
}: {
  readonly entry: TimelineEntry;
  readonly keptEntry: TimelineProps['keptEntry'];
}) {
  switch (entry.kind) {
    case 'came in':
      return <>Came in{entry.source ? `: ${entry.source}` : ''}</>;
    case 'changed':
      return <Changed {...entry} />;
    case 'letter':
      return <LetterEntry entry={entry} />;
    default:
      return keptEntry(entry);
  }
}

type Change = Extract<TimelineEntry, { kind: 'changed' }>;

function Changed({ what, who, fields, tags }: Change) {
  // What the change is called says some of it already, as a rule.
  const said = fields.filter(
    ({ from, to, label }) => from !== null || to !== null || !what.includes(label),
  );
  const words = said.map(({ label, from, to }) =>
    from === null && to === null ? label : `${label} from “${from || 'none'}” to “${to || 'none'}”`,
  );
  const named = tags.filter(({ name }) => !what.includes(`“${name}”`));
  const put = named.filter((tag) => tag.put).map(({ name }) => `“${name}”`);
  const taken = named.filter((tag) => !tag.put).map(({ name }) => `“${name}”`);
  const more = [
    ...words,
    ...(put.length > 0 ? [`tagged ${put.join(', ')}`] : []),
    ...(taken.length > 0 ? [`untagged ${taken.join(', ')}`] : []),
  ];
  return (
    <>
      {sentence(what)}
      {more.length > 0 && <Soft> ({more.join(', ')})</Soft>}
      {who && <Soft> by {who}</Soft>}
    </>
  );
}
