// “?” lists the keys of the screen one is on.
import { Kbd, Modal, Table } from '@mantine/core';
import { useLocation } from 'react-router';

interface KeyLine {
  readonly keys: string;
  readonly does: string;
}

const everywhere: readonly KeyLine[] = [
  { keys: 'Ctrl K', does: 'find people, segments, letters, campaigns, or do something' },
  { keys: '?', does: 'this list' },
  { keys: 'Esc', does: 'close what is open, clear what is chosen' },
];

const inLists: readonly KeyLine[] = [
  { keys: '/', does: 'search' },
  { keys: '↑ ↓', does: 'the line above or below; Home and End the first and last' },
];

const places: readonly {
  readonly path: RegExp;
  readonly title: string;
  readonly lines: readonly KeyLine[];
}[] = [
  {
    path: /^\/contacts$/,
    title: 'Lists of people',
    lines: [
      ...inLists,
      { keys: 'Space', does: 'choose the person of the line' },
      { keys: '← →', does: 'to the next cell; Enter or F2 changes it where it stands' },
      { keys: 'Esc', does: 'choose nobody' },
    ],
  },
  {
    path: /^\/contacts\/\d+$/,
    title: 'A person',
    lines: [
      { keys: 'Alt ↑ ↓', does: 'the previous or the next person of the list' },
      { keys: 't', does: 'tag' },
      { keys: 'u', does: 'back to the list' },
      { keys: 'Enter', does: 'keep what was typed into a field; Esc takes it back' },
    ],
  },
  {
    path: /^\/(segments|letters|campaigns|results|intake)$/,
    title: 'Lists',
    lines: inLists,
  },
  {
    path: /^\/segments\/(\d+|new)$/,
    title: 'A rule',
    lines: [
      { keys: 'Alt ↑ ↓', does: 'move the condition one is in, also out of its group' },
      { keys: 'Alt O', does: 'don’t ask it for now, or ask it again' },
      { keys: 'Alt N', does: 'turn it into its opposite' },
      { keys: 'Alt C', does: 'copy it' },
      { keys: 'Alt Delete', does: 'take it out' },
      { keys: 'Ctrl Z', does: 'undo; Ctrl Shift Z does it again' },
    ],
  },
  {
    path: /^\/settings\/fields$/,
    title: 'Fields',
    lines: [
      { keys: 'Alt ↑ ↓', does: 'move the field, or the choice, one is in' },
      { keys: 'Enter', does: 'in a choice: another one below' },
    ],
  },
  {
    path: /^\/letters\/\d+$/,
    title: 'A letter',
    lines: [
      { keys: 'Alt ↑ ↓', does: 'move the block one is in' },
      { keys: 'Ctrl Z', does: 'undo' },
      { keys: 'Ctrl Shift Z', does: 'do it again' },
      { keys: 'Ctrl B, Ctrl I', does: 'bold, italic' },
    ],
  },
];

export function Shortcuts({
  opened,
  onClose,
}: {
  readonly opened: boolean;
  readonly onClose: () => void;
}) {
  const { pathname } = useLocation();
  const here = places.find(({ path }) => path.test(pathname));
  return (
    <Modal opened={opened} onClose={onClose} title="Keys">
      {here && <KeyTable title={here.title} lines={here.lines} />}
      <KeyTable title="Everywhere" lines={everywhere} />
    </Modal>
  );
}

function KeyTable({
  title,
  lines,
}: {
  readonly title: string;
  readonly lines: readonly KeyLine[];
}) {
  return (
    <Table captionSide="top" mb="md">
      <Table.Caption>{title}</Table.Caption>
      <Table.Tbody>
        {lines.map(({ keys, does }) => (
          <Table.Tr key={keys}>
            <Table.Th scope="row" w={120}>
              <Kbd>{keys}</Kbd>
            </Table.Th>
            <Table.Td>{does}</Table.Td>
          </Table.Tr>
        ))}
      </Table.Tbody>
    </Table>
  );
}
