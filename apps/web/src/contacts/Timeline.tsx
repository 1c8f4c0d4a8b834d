// What happened with one person, latest first.
import type { LetterKind, TimelineEntry } from '@palabra/contract/contacts';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { useOffice } from '../office/OfficeContext';
import { Empty, Ghost, Wrong } from '../ui/states';
import { dayAndClock } from '../ui/time';
import { Words } from '../ui/Words';
import { useLazyTimelineQuery, useTimelineQuery } from './contacts.api';

type Part = 'everything' | 'letters' | 'changes';

export function Timeline({ id }: { readonly id: number }) {
  const [part, setPart] = useState<Part>('everything');
  const first = useTimelineQuery({ id });
  const [more, loading] = useLazyTimelineQuery();
  const [older, setOlder] = useState<{
    entries: readonly TimelineEntry[];
    before: string | null;
  }>();
  const { office } = useOffice();
  if (first.isError) return <Wrong error={first.error} again={() => void first.refetch()} />;
  if (!first.data) return <Ghost lines={6} />;
  const entries = [...first.data.entries, ...(older?.entries ?? [])].filter(
    ({ kind }) =>
      part === 'everything' || (part === 'changes') === (kind === 'changed' || kind === 'came in'),
  );
  const before = older ? older.before : first.data.before;
  const showOlder = async (): Promise<void> => {
    if (!before) return;
    const page = await more({ id, before }).unwrap();
    setOlder({ entries: [...(older?.entries ?? []), ...page.entries], before: page.before });
  };
  return (
    <section aria-label="What happened">
      <Words
        label="Show"
        value={part}
        options={['everything', 'letters', 'changes']}
        onChange={setPart}
      />
      {entries.length === 0 && (
        <Empty title="Nothing yet">
          What this person does with your letters, and what you change here, is listed in this
          place.
        </Empty>
      )}
      <ol className="rows" style={{ marginTop: 6 }}>
        {entries.map((entry) => (
          <li key={entry.key + entry.at}>
            <span className="when">{dayAndClock(office.timeZone, entry.at)}</span>
            <span className="what">
              <Entry entry={entry} />
            </span>
          </li>
        ))}
      </ol>
      {before && (
        <button
          type="button"
          className="act"
          disabled={loading.isFetching}
          onClick={() => void showOlder()}
        >
          {loading.isFetching ? 'Looking …' : 'Earlier'}
        </button>
      )}
    </section>
  );
}

function Entry({ entry }: { readonly entry: TimelineEntry }) {
  if (entry.kind === 'came in') return <>Came in{entry.source ? `: ${entry.source}` : ''}</>;
  if (entry.kind === 'changed') {
    const says = entry.what.charAt(0).toUpperCase() + entry.what.slice(1);
    const fields = entry.fields.filter((field) => !entry.what.includes(field));
    // What the change is called says it already, as a rule.
    const tags = entry.tags.filter(({ name }) => !entry.what.includes(`“${name}”`));
    const put = tags.filter((tag) => tag.put).map(({ name }) => `“${name}”`);
    const taken = tags.filter((tag) => !tag.put).map(({ name }) => `“${name}”`);
    const more = [
      ...fields,
      ...(put.length > 0 ? [`tagged ${put.join(', ')}`] : []),
      ...(taken.length > 0 ? [`untagged ${taken.join(', ')}`] : []),
    ];
    return (
      <>
        {says}
        {more.length > 0 && <span className="soft"> ({more.join(', ')})</span>}
        {entry.who && <span className="soft"> by {entry.who}</span>}
      </>
    );
  }
  const campaign = (
    <Link className="name" style={{ color: 'var(--ink)' }} to={`/results/${entry.campaign.id}`}>
      {entry.campaign.name}
    </Link>
  );
  return letterWords[entry.kind]({
    campaign,
    detail: entry.detail,
    machine: entry.machine && (
      <span className="soft"> by a machine ({entry.machine}); not counted</span>
    ),
  });
}

interface Said {
  readonly campaign: ReactNode;
  readonly detail: string | null;
  readonly machine: ReactNode;
}

const soft = (words: string | null): ReactNode => <span className="soft">{words}</span>;

const letterWords: { readonly [K in LetterKind]: (said: Said) => ReactNode } = {
  sent: ({ campaign }) => <>Got {campaign}</>,
  opened: ({ campaign, machine }) => (
    <>
      Opened {campaign}
      {machine}
    </>
  ),
  clicked: ({ campaign, detail, machine }) => (
    <>
      Clicked <b>“{detail ?? 'a link'}”</b> in {campaign}
      {machine}
    </>
  ),
  left: ({ campaign }) => <>Left after {campaign}</>,
  'came back': ({ campaign }) => <>Wants letters again, by the link in {campaign}</>,
  'chose topics': ({ campaign }) => <>Chose topics, by the link in {campaign}</>,
  'changed own data': ({ campaign }) => <>Corrected own data, by the link in {campaign}</>,
  complained: ({ campaign }) => <>Complained about {campaign}</>,
  replied: ({ campaign }) => <>Replied to {campaign}</>,
  'replied by itself': ({ campaign }) => (
    <>
      An automatic reply to {campaign}
      {soft('; not counted')}
    </>
  ),
  bounced: ({ campaign, detail }) => (
    <>
      {campaign} came back {soft(detail)}
    </>
  ),
  'held back': ({ campaign, detail }) => (
    <>
      Held back from {campaign}: {soft(detail)}
    </>
  ),
  waiting: ({ campaign }) => <>{campaign} waits to go out</>,
  'handing over': ({ campaign }) => <>{campaign} is being handed over</>,
  deferred: ({ campaign, detail }) => (
    <>
      {campaign} was put off and is tried again {soft(detail)}
    </>
  ),
  stopped: ({ campaign }) => <>{campaign} was stopped before it went out</>,
  'gave up': ({ campaign, detail }) => (
    <>
      {campaign} was given up after several tries {soft(detail)}
    </>
  ),
  uncertain: ({ campaign, detail }) => (
    <>
      Nobody knows whether {campaign} arrived {soft(detail)}
    </>
  ),
};
