// An empty list, and what to do about it.
import { Link } from 'react-router';
import { useSeesEverybody } from '../office';
import { Empty } from '../ui/states';
import type { Filter } from './contacts.api';

export function Nobody({ filter }: { readonly filter: Filter }) {
  const seesAll = useSeesEverybody();
  const isNarrowed =
    filter.q !== undefined ||
    filter.tag !== undefined ||
    filter.standing !== undefined ||
    filter.filter !== undefined;
  if (isNarrowed) return <Empty title="Nobody fits">Try fewer letters, or ask for less.</Empty>;
  if (filter.of)
    return <Empty title="Nobody fits">There is nobody behind this number any more.</Empty>;
  if (!seesAll)
    return (
      <Empty title="Nobody is in your care yet">
        A coordinator hands people over to you, or you enter one as a new contact.
      </Empty>
    );
  return (
    <Empty title="Nobody is here yet">
      Contacts come in from a spreadsheet or by hand. <Link to="/intake">Import a list</Link>
    </Empty>
  );
}
