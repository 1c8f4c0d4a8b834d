// Who did what to how many; each line opens into the people and can be taken back.
import type { ChangeReply } from '@palabra/contract/contacts';
import { useState } from 'react';
import { problemOf } from '../app/api';
import { useMay, useOffice, useSeesEverybody } from '../office/OfficeContext';
import { Page } from '../ui/Page';
import { Empty, Ghost, Note, Wrong } from '../ui/states';
import { dayAndClock } from '../ui/time';
import { useChangesQuery, useUndoMutation } from './contacts.api';
import { ChangeWords } from './JustDonePart';

export function ActivityPage() {
  const seesAll = useSeesEverybody();
  const [ends, setEnds] = useState<readonly number[]>([]);
  return (
    <Page
      title="Activity"
      sub={seesAll ? 'what everybody changed about people' : 'what you changed about people'}
    >
      <Stretch before={undefined} isLast={ends.length === 0} onMore={(end) => setEnds([end])} />
      {ends.map((end, at) => (
        <Stretch
          key={end}
          before={end}
          isLast={at === ends.length - 1}
          onMore={(next) => setEnds([...ends, next])}
        />
      ))}
    </Page>
  );
}

function Stretch({
  before,
  isLast,
  onMore,
}: {
  readonly before: number | undefined;
  readonly isLast: boolean;
  readonly onMore: (before: number) => void;
}) {
  const found = useChangesQuery({ before }, { refetchOnMountOrArgChange: true });
  const running = found.data?.changes.some(({ isDone }) => !isDone) ?? false;
  const { data, isError, error, refetch } = useChangesQuery(
    { before },
    { pollingInterval: running ? 1000 : 0 },
  );
  if (isError) return <Wrong error={error} again={() => void refetch()} />;
  if (!data) return <Ghost lines={6} />;
  if (data.changes.length === 0 && before === undefined)
    return (
      <Empty title="Nothing yet">
        Every change to people’s data is written down here: by whom, to how many, and what was
        before. For thirty days it can be taken back.
      </Empty>
    );
  return (
    <>
      <ul className="rows">
        {data.changes.map((change) => (
          <ChangeLine key={change.id} change={change} />
        ))}
      </ul>
      {isLast && data.before !== null && (
        <button
          type="button"
          className="act"
          onClick={() => data.before !== null && onMore(data.before)}
        >
          Earlier
        </button>
      )}
    </>
  );
}

function ChangeLine({ change }: { readonly change: ChangeReply }) {
  const { office } = useOffice();
  const may = useMay('change people');
  const [undo, undoing] = useUndoMutation();
  const [said, setSaid] = useState<string>();
  const takeBack = async (): Promise<void> => {
    try {
      await undo(change.id).unwrap();
    } catch (error) {
      setSaid(problemOf(error).detail);
    }
  };
  return (
    <li>
      <span className="when">{dayAndClock(office.timeZone, change.at)}</span>
      <span className="what">
        <ChangeWords change={change} />{' '}
        <span className="soft">
          by {change.by ?? (change.kind === 'reader' ? 'the reader' : 'itself')}
        </span>
        {said && <Note kind="wrong">{said}</Note>}
      </span>
      <span className="end">
        {change.isUndone ? (
          <span className="soft">taken back</span>
        ) : (
          may &&
          change.canUndo && (
            <button
              type="button"
              className="act"
              disabled={undoing.isLoading}
              onClick={() => void takeBack()}
            >
              Undo
            </button>
          )
        )}
      </span>
    </li>
  );
}
