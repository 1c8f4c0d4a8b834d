// Rows with something wrong, each with its line and the reason: refused, or in without a cell.
import { Group, Table, Title } from '@mantine/core';
import type { ImportReply } from '@palabra/contract/intake';
import { count } from '../ui/numbers';
import { Figure, Soft } from '../ui/text';
import { useRefusedQuery } from './intake.api';
import classes from './intake.module.css';

const SHOWN_COLUMNS = 4;

export function Refused({ data }: { readonly data: ImportReply }) {
  const { id, refusedCount, doubtedCount, headers, headerAt } = data;
  const all = refusedCount + doubtedCount;
  const above = headerAt === null ? 0 : headerAt + 1;
  const page = useRefusedQuery({ id }, { pollingInterval: data.state === 'running' ? 2000 : 0 });
  const shown = page.data?.rows ?? [];
  const columns = headers.slice(0, SHOWN_COLUMNS);
  return (
    <section>
      <Group justify="space-between">
        <Title order={2}>To look at</Title>
        <a href={`/api/imports/${id}/refused.csv`} download>
          Take all {count(all)} as CSV
        </a>
      </Group>
      {doubtedCount > 0 && (
        <p>
          <Soft>
            {doubtedCount === 1 ? 'One row' : `${count(doubtedCount)} rows`} came in without a cell
            that can’t be read. Mended in the CSV and brought again, it is filled.
          </Soft>
        </p>
      )}
      <Table.ScrollContainer minWidth={520}>
        <Table aria-label="Rows to look at">
          <Table.Thead>
            <Table.Tr>
              <Table.Th>row</Table.Th>
              <Table.Th>what is wrong</Table.Th>
              {columns.map((header, at) => (
                <Table.Th key={at}>{header || `column ${at + 1}`}</Table.Th>
              ))}
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {shown.map(({ row, line, reason, isIn, cells }) => (
              <Table.Tr key={row}>
                <Table.Td>
                  <Figure>{count(line ?? row + above)}</Figure>
                </Table.Td>
                <Table.Td>
                  {!isIn && <b>Refused: </b>}
                  {reason}
                </Table.Td>
                {columns.map((_, at) => (
                  <Table.Td key={at} className={classes.sample}>
                    {cells[at]}
                  </Table.Td>
                ))}
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      </Table.ScrollContainer>
      {all > shown.length && (
        <p>
          <Soft>
            The first {count(shown.length)} are shown; the CSV has them all. Mend them there and
            bring the file again.
          </Soft>
        </p>
      )}
    </section>
  );
}
