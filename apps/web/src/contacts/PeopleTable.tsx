import type { PersonRow } from '@palabra/contract/contacts';
import { Table } from '../ui/table';
import { usePeopleColumns } from './columns';

/** A few people; `list` is the list that each person's page goes on with. */
export function PeopleTable({
  label,
  rows,
  list,
}: {
  readonly label: string;
  readonly rows: readonly PersonRow[];
  readonly list: string;
}) {
  const columns = usePeopleColumns(list).filter(({ hidden }) => !hidden);
  return (
    <Table
      name="first-people"
      label={label}
      columns={columns}
      source={{ rows }}
      keyOf={({ id }) => id}
    />
  );
}
