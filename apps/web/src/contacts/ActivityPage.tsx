// Who did what to how many; each line opens into the people and can be taken back.
import type { ChangeReply } from '@palabra/contract/contacts';
import { useMay, useOffice, useSeesEverybody } from '../office';
import { command } from '../ui/command';
import { Page } from '../ui/Page';
import { Row, Rows } from '../ui/Rows';
import { Empty, Ghost, Wrong } from '../ui/states';
import { Act, Soft } from '../ui/text';
import { dayAndClock } from '../ui/time';
import { ChangeWords } from './changes';
import { useChangesInfiniteQuery, useUndoMutation } from './contacts.api';

export function ActivityPage() {
  const seesAll = useSeesEverybody();
  const found = useChangesInfiniteQuery(undefined, { refetchOnMountOrArgChange: true });
  const changes = found.data?.pages.flatMap((page) => page.changes);
  const isRunning = changes?.some(({ isDone }) => !isDone) ?? false;
  useChangesInfiniteQuery(undefined, { pollingInterval: isRunning ? 1000 : 0 });
  return (
    <Page
      title="Activity"
      sub={seesAll ? 'what everybody changed' : 'what you changed about people'}
    >
      {found.isError && <Wrong error={found.error} again={() => void found.refetch()} />}
      {!changes && !found.isError && <Ghost lines={6} />}
      {changes?.length === 0 && (
        <Empty title="Nothing yet">
          Every change to people’s data is written down here: by whom, to how many, and what was
          before. For thirty days it can be taken back.
        </Empty>
      )}
      <Rows>
        {changes?.map((change) => (
          <ChangeLine key={change.id} change={change} />
        ))}
      </Rows>
      {found.hasNextPage && (
        <Act loading={found.isFetchingNextPage} onClick={() => void found.fetchNextPage()}>
          Earlier
        </Act>
      )}
    </Page>
  );
}

function ChangeLine({ change }: { readonly change: ChangeReply }) {
  const { office } = useOffice();
  const may = useMay('change people');
  const [undo, undoing] = useUndoMutation();
  return (
    <Row
      when={dayAndClock(office.timeZone, change.at)}
      end={
        change.isUndone
          ? 'taken back'
          : may &&
            change.canUndo && (
              <Act
                loading={undoing.isLoading}
                onClick={() => void command({ run: () => undo(change.id).unwrap() })}
              >
                Undo
              </Act>
            )
      }
    >
      <ChangeWords change={change} />{' '}
      <Soft>by {change.by ?? (change.kind === 'reader' ? 'the reader' : 'itself')}</Soft>
    </Row>
  );
}
