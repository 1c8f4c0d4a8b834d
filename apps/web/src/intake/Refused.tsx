// The rows that were refused, each with its line and its reason.
import { Group, Table, Title } from '@mantine/core';
import type { ImportReply } from '@palabra/contract/intake';
import { count } from '../ui/numbers';
import { Figure, Soft } from '../ui/text';
import { useRefusedQuery } from './intake.api';
import classes from './intake.module.css';

const SHOWN_COLUMNS = 4;

export function Refused({ data }: { readonly data: ImportReply }) {
  const { id, refusedCount, headers, headerAt } = data;
  const above = headerAt === null ? 0 : headerAt + 1;
  const page = useRefusedQuery({ id }, { pollingInterval: data.state === 'running' ? 2000 : 0 });
  const shown = page.data?.rows ?? [];
  const columns = headers.slice(0, SHOWN_COLUMNS);
  return (
    <section>
      <Group justify="space-between">
        <Title order={2}>Refused, with the reason</Title>
        <a href={`/api/imports/${id}/refused.csv`} download>
          Take all {count(refusedCount)} as CSV
        </a>
      </Group>
      <Table.ScrollContainer minWidth={520}>
        <Table aria-label="Refused rows">
          <Table.Thead>
            <Table.Tr>
              <Table.Th>line</Table.Th>
              <Table.Th>why</Table.Th>
              {columns.map((header, at) => (
                <Table.Th key={at}>{header || `column ${at + 1}`}</Table.Th>
              ))}
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {shown.map(({ row, line, reason, cells }) => (
              <Table.Tr key={row}>
                <Table.Td>
                  <Figure>{count(line ?? row + above)}</Figure>
                </Table.Td>
                <Table.Td>{reason}</Table.Td>
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
      {refusedCount > shown.length && (
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
