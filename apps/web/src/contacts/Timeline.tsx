// What happened with one person, latest first.
import type { TimelineEntry } from '@palabra/contract/contacts';
import { useState } from 'react';
import { useOffice } from '../office';
import { Row, Rows } from '../ui/Rows';
import { Empty, Ghost, Wrong } from '../ui/states';
import { Act, sentence, Soft } from '../ui/text';
import { dayAndClock } from '../ui/time';
import { Words } from '../ui/Words';
import { useTimelineInfiniteQuery } from './contacts.api';
import { LetterEntry } from './LetterEntry';

type Part = 'everything' | 'letters' | 'changes';
const isChange = ({ kind }: TimelineEntry): boolean => kind === 'changed' || kind === 'came in';

export function Timeline({ id }: { readonly id: number }) {
  const [part, setPart] = useState<Part>('everything');
  const { office } = useOffice();
  const found = useTimelineInfiniteQuery({ id });
  if (found.isError) return <Wrong error={found.error} again={() => void found.refetch()} />;
  if (!found.data) return <Ghost lines={6} />;
  const entries = found.data.pages
    .flatMap((page) => page.entries)
    .filter((entry) => part === 'everything' || (part === 'changes') === isChange(entry));
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
      <Rows ordered>
        {entries.map((entry) => (
          <Row key={entry.key + entry.at} when={dayAndClock(office.timeZone, entry.at)}>
            <Entry entry={entry} />
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

function Entry({ entry }: { readonly entry: TimelineEntry }) {
  if (entry.kind === 'came in') return <>Came in{entry.source ? `: ${entry.source}` : ''}</>;
  return entry.kind === 'changed' ? <Changed {...entry} /> : <LetterEntry entry={entry} />;
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
