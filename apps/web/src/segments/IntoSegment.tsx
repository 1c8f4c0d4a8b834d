// People chosen in a list, put into a fixed segment: one that is there, or a new one.
import type { PeopleSelection } from '@palabra/contract/contacts';
import { useNavigate } from 'react-router';
import { useMay } from '../office';
import { command } from '../ui/command';
import { Finder } from '../ui/Finder';
import { people as peopleWords } from '../ui/numbers';
import {
  useAddSegmentMutation,
  usePutMembersMutation,
  useSegmentsQuery,
  useUndoMembersMutation,
} from './segments.api';

export function IntoSegment({ people }: { readonly people: PeopleSelection }) {
  const may = useMay('make segments');
  const navigate = useNavigate();
  const { data: segments = [] } = useSegmentsQuery(undefined, { skip: !may });
  const [add] = useAddSegmentMutation();
  const [put] = usePutMembersMutation();
  const [undo] = useUndoMembersMutation();
  if (!may) return null;
  const begin = async (name: string): Promise<void> => {
    const made = await command({ run: () => add({ name, people }).unwrap() });
    if (made) void navigate(`/segments/${made.id}`);
  };
  const into = (id: number, name: string): Promise<unknown> =>
    command({
      run: () => put({ id, people }).unwrap(),
      says: ({ changed }) => `${peopleWords(changed)} put into “${name}”.`,
      undo: ({ at }) => undo({ id, at }).unwrap(),
    });
  return (
    <Finder
      words="Put into a segment"
      label="Find a fixed segment"
      placeholder="find a fixed segment, or name a new one"
      none="Type the name of a new one."
      options={segments
        .filter(({ kind, mayChange }) => kind === 'fixed' && mayChange)
        .map(({ id, name }) => ({ key: String(id), text: name, note: 'fixed' }))}
      make={{
        label: (text) => `Make “${text}” of them`,
        can: (text) => text.length <= 120,
        run: (text) => void begin(text),
      }}
      onPick={({ key, text }) => void into(Number(key), text)}
    />
  );
}
