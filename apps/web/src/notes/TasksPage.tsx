// What is to do: one's own or the office's, by the day it is due.
import { Group } from '@mantine/core';
import type { TaskReply } from '@palabra/contract/notes';
import { dueness, type Dueness } from '@palabra/core/notes';
import { dayIn } from '@palabra/core/office';
import { useMay, useOffice } from '../office';
import { count } from '../ui/numbers';
import { Page, Part } from '../ui/Page';
import { Rows } from '../ui/Rows';
import { useSearch } from '../ui/search';
import { Empty, Ghost, Wrong } from '../ui/states';
import { Act } from '../ui/text';
import { Words } from '../ui/Words';
import { useTaskCountsQuery, useTasksInfiniteQuery } from './notes.api';
import { TaskLine } from './TaskLine';

const titles: Readonly<Record<Dueness, string>> = {
  overdue: 'Overdue',
  today: 'Today',
  later: 'Later',
  none: 'On no day in particular',
};

export function TasksPage() {
  const { office } = useOffice();
  const may = useMay('change people');
  const [search, setSearch] = useSearch();
  const whose = search.get('whose') === 'all' ? 'all' : 'mine';
  const state = search.get('state') === 'done' ? 'done' : 'open';
  const found = useTasksInfiniteQuery({ whose, state }, { refetchOnMountOrArgChange: true });
  const { data: counts } = useTaskCountsQuery(whose);
  const go = (next: { whose?: string; state?: string }): void =>
    setSearch({ whose, state, ...next }, { replace: true });
  const tasks = found.data?.pages.flatMap((page) => page.tasks);
  const today = dayIn(office.timeZone, new Date());
  const open = counts && counts.overdue + counts.today + counts.later;
  return (
    <Page
      title="Tasks"
      sub={
        open !== undefined &&
        `${count(open)} to do${counts && counts.overdue > 0 ? `, ${count(counts.overdue)} overdue` : ''}`
      }
    >
      <Group gap="xl" mb="md">
        <Words
          label="Whose"
          value={whose}
          options={[
            { value: 'mine', label: 'mine' },
            { value: 'all', label: 'the office’s' },
          ]}
          onChange={(next) => go({ whose: next })}
        />
        <Words
          label="Which"
          value={state}
          options={[
            { value: 'open', label: 'to do' },
            { value: 'done', label: 'done' },
          ]}
          onChange={(next) => go({ state: next })}
        />
      </Group>
      {found.isError && <Wrong error={found.error} again={() => void found.refetch()} />}
      {found.isLoading && <Ghost lines={6} />}
      {tasks?.length === 0 && (
        <Empty title={state === 'open' ? 'Nothing to do' : 'Nothing done yet'}>
          {may
            ? 'A task is made on a person’s page, or for each of the people chosen in a list.'
            : 'Your colleagues make tasks on a person’s page.'}
        </Empty>
      )}
      {tasks && state === 'done' && <Lines tasks={tasks} label="Done" />}
      {tasks &&
        state === 'open' &&
        (Object.keys(titles) as Dueness[]).map((when) => {
          const some = tasks.filter(({ due }) => dueness(due, today) === when);
          return some.length === 0 ? null : (
            <Part key={when} title={titles[when]}>
              <Lines tasks={some} label={titles[when]} />
            </Part>
          );
        })}
      {found.hasNextPage && (
        <Act loading={found.isFetchingNextPage} onClick={() => void found.fetchNextPage()}>
          More
        </Act>
      )}
    </Page>
  );
}

function Lines({ tasks, label }: { readonly tasks: readonly TaskReply[]; readonly label: string }) {
  return (
    <Rows label={label}>
      {tasks.map((task) => (
        <TaskLine key={`${task.id} ${task.version}`} task={task} named as="row" />
      ))}
    </Rows>
  );
}
