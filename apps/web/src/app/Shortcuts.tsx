// “?” lists the keys of the screen one is on.
import { Modal } from '@mantine/core';
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

const places: readonly {
  readonly path: RegExp;
  readonly title: string;
  readonly lines: readonly KeyLine[];
}[] = [
  {
    path: /^\/contacts$/,
    title: 'Lists of people',
    lines: [
      { keys: '/', does: 'search by name or address' },
      { keys: 'Space', does: 'choose the person of the focused box' },
      { keys: 'Esc', does: 'choose nobody' },
    ],
  },
  {
    path: /^\/contacts\/\d+$/,
    title: 'A person',
    lines: [
      { keys: 'Alt ↑ ↓', does: 'the previous or the next person of the list' },
      { keys: 'Enter', does: 'keep what was typed into a field; Esc takes it back' },
    ],
  },
  {
    path: /^\/segments\/\d+$/,
    title: 'A rule',
    lines: [{ keys: 'Alt ↑ ↓', does: 'move the condition one is in' }],
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
    <Modal
      opened={opened}
      onClose={onClose}
      title={<b>Keys</b>}
      closeButtonProps={{ 'aria-label': 'Close' }}
    >
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
    <table className="keys">
      <caption>{title}</caption>
      <tbody>
        {lines.map(({ keys, does }) => (
          <tr key={keys}>
            <th scope="row">
              <kbd>{keys}</kbd>
            </th>
            <td>{does}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
