// What can be done with a condition or a group, by mouse and by keys.
import { ActionIcon, Menu } from '@mantine/core';
import { isGroup, type RuleNode } from '@palabra/core/segments';
import { IconDots } from '@tabler/icons-react';
import type { KeyboardEvent } from 'react';
import { Small } from '../ui/text';
import type { Edit, EditorParts } from './editing';

/** With Alt; by the key's place, because with Alt some keyboards write other signs. */
const keys: Readonly<Record<string, (path: string) => Edit>> = {
  ArrowUp: (path) => ({ do: 'step', path, by: -1 }),
  ArrowDown: (path) => ({ do: 'step', path, by: 1 }),
  KeyC: (path) => ({ do: 'copy', path }),
  KeyN: (path) => ({ do: 'negate', path }),
  KeyO: (path) => ({ do: 'switch', path }),
  Delete: (path) => ({ do: 'take out', path }),
  Backspace: (path) => ({ do: 'take out', path }),
};

/** Heard before the controls inside, some of which open by arrows. */
export const partKeys =
  (path: string, { disabled, act, isFull }: EditorParts) =>
  (event: KeyboardEvent): void => {
    const edit = event.altKey && !event.ctrlKey && !event.metaKey ? keys[event.code] : undefined;
    if (!edit || disabled || (isFull && event.code === 'KeyC')) return;
    event.preventDefault();
    event.stopPropagation();
    act(edit(path));
  };

export function PartMenu({
  node,
  path,
  parts: { act, isFull },
}: {
  readonly node: RuleNode;
  readonly path: string;
  readonly parts: EditorParts;
}) {
  const what = isGroup(node) ? 'group' : 'condition';
  const item = (label: string, key: string, edit: Edit, disabled = false) => (
    <Menu.Item disabled={disabled} rightSection={<Small>{key}</Small>} onClick={() => act(edit)}>
      {label}
    </Menu.Item>
  );
  return (
    <Menu position="bottom-end" withinPortal>
      <Menu.Target>
        <ActionIcon aria-label={`What to do with this ${what}`}>
          <IconDots size={16} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        {item(node.off ? 'Ask it again' : 'Don’t ask it for now', 'Alt O', { do: 'switch', path })}
        {item(isGroup(node) ? 'Turn it into its opposite' : 'Leave just these out', 'Alt N', {
          do: 'negate',
          path,
        })}
        {item('Copy', 'Alt C', { do: 'copy', path }, isFull)}
        {item('Move up', 'Alt ↑', { do: 'step', path, by: -1 })}
        {item('Move down', 'Alt ↓', { do: 'step', path, by: 1 })}
        {item('Take it out', 'Alt Delete', { do: 'take out', path })}
      </Menu.Dropdown>
    </Menu>
  );
}
