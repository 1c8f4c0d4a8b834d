// A person, with what is written down about them and to do for them.
import { PersonPage as Person } from '../contacts';
import { Composer, Kept, NoteEntry, TaskLine } from '../notes';
import { useMay } from '../office';
import { SegmentsOf } from '../segments';

export function PersonPage() {
  const may = useMay('change people');
  return (
    <Person
      over={(id) => (
        <>
          {may && <Composer key={id} person={id} />}
          <Kept person={id} />
        </>
      )}
      beside={(id) => <SegmentsOf person={id} />}
      keptEntry={(entry) =>
        entry.kind === 'note' ? (
          <NoteEntry key={entry.note.version} note={entry.note} />
        ) : (
          <TaskLine key={entry.task.version} task={entry.task} changes />
        )
      }
    />
  );
}
