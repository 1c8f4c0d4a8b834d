// A campaign to just these people, with nothing kept as a segment.
import type { PeopleSelection } from '@palabra/contract/contacts';
import { useNavigate } from 'react-router';
import { useMay } from '../office';
import { command } from '../ui/command';
import { Act } from '../ui/text';
import { useChooseMutation } from './campaigns.api';

export function WriteToThem({ people }: { readonly people: PeopleSelection }) {
  const may = useMay('write letters');
  const navigate = useNavigate();
  const [choose, state] = useChooseMutation();
  if (!may) return null;
  const write = async (): Promise<void> => {
    const made = await command({ run: () => choose({ people }).unwrap() });
    if (made) void navigate(`/campaigns/new?people=${made.id}`);
  };
  return (
    <Act loading={state.isLoading} onClick={() => void write()}>
      Write to them
    </Act>
  );
}
