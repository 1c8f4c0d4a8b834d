// What happened with one person, latest first.
import type { TimelineEntry } from '@palabra/contract/contacts';
import { useState } from 'react';
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
    return (
      <>
        {says}
        {fields.length > 0 && <span className="soft"> ({fields.join(', ')})</span>}
        {entry.who && <span className="soft"> by {entry.who}</span>}
      </>
    );
  }
  const campaign = (
    <Link className="name" style={{ color: 'var(--ink)' }} to={`/results/${entry.campaign.id}`}>
      {entry.campaign.name}
    </Link>
  );
  const machine = entry.machine && (
    <span className="soft"> by a machine ({entry.machine}); not counted</span>
  );
  switch (entry.kind) {
    case 'sent':
      return <>Got {campaign}</>;
    case 'opened':
      return (
        <>
          Opened {campaign}
          {machine}
        </>
      );
    case 'clicked':
      return (
        <>
          Clicked <b>“{entry.detail ?? 'a link'}”</b> in {campaign}
          {machine}
        </>
      );
    case 'left':
      return <>Left after {campaign}</>;
    case 'came back':
      return <>Wants letters again, by the link in {campaign}</>;
    case 'chose topics':
      return <>Chose topics, by the link in {campaign}</>;
    case 'changed own data':
      return <>Corrected own data, by the link in {campaign}</>;
    case 'complained':
      return <>Complained about {campaign}</>;
    case 'replied':
      return <>Replied to {campaign}</>;
    case 'replied by itself':
      return (
        <>
          An automatic reply to {campaign}
          <span className="soft">; not counted</span>
        </>
      );
    case 'bounced':
      return (
        <>
          {campaign} came back <span className="soft">{entry.detail}</span>
        </>
      );
    case 'held back':
      return (
        <>
          Held back from {campaign}: <span className="soft">{entry.detail}</span>
        </>
      );
    default:
      return (
        <>
          {campaign} is still under way <span className="soft">{entry.detail}</span>
        </>
      );
  }
}
