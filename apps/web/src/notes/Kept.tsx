// What is kept in sight over a person's timeline: what is to do, and what was pinned.
import { useKeptQuery } from './notes.api';
import { NoteEntry } from './NoteEntry';
import classes from './notes.module.css';
import { TaskLine } from './TaskLine';

export function Kept({ person }: { readonly person: number }) {
  const { data } = useKeptQuery(person);
  if (!data || data.pinned.length + data.tasks.length === 0) return null;
  return (
    <section className={classes.kept} aria-label="Kept in sight">
      {data.tasks.map((task) => (
        <TaskLine key={task.id} task={task} changes />
      ))}
      {data.pinned.map((note) => (
        <NoteEntry key={`${note.id} ${note.version}`} note={note} />
      ))}
    </section>
  );
}
