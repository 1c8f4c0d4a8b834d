// For the desk: what is to do next, and what colleagues told one of.
import type { ToldReply } from '@palabra/contract/notes';
import { displayName } from '@palabra/core/contacts';
import { Link } from 'react-router';
import { command } from '../ui/command';
import { count } from '../ui/numbers';
import { Part } from '../ui/Page';
import { Name, Row, Rows } from '../ui/Rows';
import { Act, Soft, Wrongly } from '../ui/text';
import { NoteText } from './NoteText';
import {
  useSeeNoteMutation,
  useTaskCountsQuery,
  useTasksInfiniteQuery,
  useToldQuery,
} from './notes.api';
import { TaskLine } from './TaskLine';

const SHOWN = 5;
const fresh = { refetchOnMountOrArgChange: true, pollingInterval: 60_000 } as const;

export function ToDo() {
  const { data } = useTasksInfiniteQuery(
    { whose: 'mine', state: 'open' },
    { refetchOnMountOrArgChange: true },
  );
  const { data: counts } = useTaskCountsQuery('mine', fresh);
  const told = useToldQuery(undefined, fresh).data ?? [];
  const tasks = data?.pages[0]?.tasks ?? [];
  if (tasks.length + told.length === 0) return null;
  const all = counts ? counts.overdue + counts.today + counts.later : tasks.length;
  return (
    <Part
      title="To do"
      aside={
        <span>
          {counts !== undefined && counts.overdue > 0 && (
            <Wrongly mr="md">{count(counts.overdue)} overdue</Wrongly>
          )}
          <Link to="/tasks">{all > SHOWN ? `All ${count(all)}` : 'Your tasks'}</Link>
        </span>
      }
    >
      <Rows label="To do">
        {told.map(({ note, person }) => (
          <Told key={`told ${note.id}`} note={note} person={person} />
        ))}
        {tasks.slice(0, SHOWN).map((task) => (
          <Row key={task.id}>
            <TaskLine task={task} named />
          </Row>
        ))}
      </Rows>
    </Part>
  );
}

function Told({ note, person }: ToldReply) {
  const [see] = useSeeNoteMutation();
  return (
    <Row end={<Act onClick={() => void command({ run: () => see(note.id).unwrap() })}>Seen</Act>}>
      <Soft>{note.by.name} told you of </Soft>
      <Name to={`/contacts/${person.id}`}>
        {displayName({ given: person.givenName, family: person.familyName }, person.address)}
      </Name>
      <NoteText text={note.text} />
    </Row>
  );
}
