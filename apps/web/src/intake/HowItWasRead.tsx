// What was said of a file that came in: kept, so that one can look it up later.
import { Table } from '@mantine/core';
import type { ImportReply } from '@palabra/contract/intake';
import { permissionWords } from '@palabra/core/contacts';
import { knownWayWords, type Target } from '@palabra/core/intake';
import { useVocabularyQuery } from '../contacts';
import { Part } from '../ui/Page';
import { Fact, Facts } from '../ui/Sheet';
import { Soft } from '../ui/text';

export function HowItWasRead({ data }: { readonly data: ImportReply }) {
  const { data: vocabulary } = useVocabularyQuery();
  const { plan } = data;
  const words = (target: Target): string => {
    if (target.to === 'nothing') return 'nothing, left out';
    if (target.to !== 'field') return target.to === 'name' ? 'whole name' : target.to;
    const label =
      vocabulary?.fields.find(({ key }) => key === target.field)?.label ?? 'a field that is gone';
    const more = [target.days, target.way && knownWayWords[target.way]].filter(Boolean);
    return [label, ...more].join(', ');
  };
  return (
    <Part
      title="How it was read"
      aside={
        data.hasFile && (
          <a href={`/api/imports/${data.id}/file`} download>
            The file as it came
          </a>
        )
      }
    >
      <Table aria-label="What the columns filled">
        <Table.Tbody>
          {data.headers.map((header, at) => (
            <Table.Tr key={at}>
              <Table.Td>{header || `column ${at + 1}`}</Table.Td>
              <Table.Td>
                <Soft>{words(plan.mapping[at] ?? { to: 'nothing' })}</Soft>
              </Table.Td>
            </Table.Tr>
          ))}
        </Table.Tbody>
      </Table>
      <Facts>
        <Fact name="permission">
          {[permissionWords[plan.permission], plan.source].filter(Boolean).join(', ')}
        </Fact>
        <Fact name="known by">{plan.matching}</Fact>
        <Fact name="new people went to">
          {vocabulary?.owners.find(({ key }) => key === String(plan.ownerId))?.label ??
            'somebody who is gone'}
        </Fact>
      </Facts>
    </Part>
  );
}
