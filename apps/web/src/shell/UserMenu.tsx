import { Kbd, Menu, useMantineColorScheme, type MantineColorScheme } from '@mantine/core';
import { IconCheck, IconChevronDown } from '@tabler/icons-react';
import { Link } from 'react-router';
import { useOffice, useSignOutMutation } from '../office';
import { command } from '../ui/command';
import { Act } from '../ui/text';

const looks: readonly { readonly value: MantineColorScheme; readonly label: string }[] = [
  { value: 'light', label: 'Light' },
  { value: 'dark', label: 'Dark' },
  { value: 'auto', label: 'As the system' },
];

export function UserMenu({
  outside,
  onKeys,
}: {
  /** The demo world's mailboxes, where they run. */
  readonly outside: string | undefined;
  readonly onKeys: () => void;
}) {
  const { user } = useOffice();
  const [signOut] = useSignOutMutation();
  const { colorScheme, setColorScheme } = useMantineColorScheme();
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <Act>
          {user.name} <IconChevronDown size={14} aria-hidden />
        </Act>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>{user.role}</Menu.Label>
        <Menu.Item component={Link} to="/activity">
          Activity
        </Menu.Item>
        <Menu.Item component={Link} to="/settings">
          Settings
        </Menu.Item>
        <Menu.Item onClick={onKeys} rightSection={<Kbd size="xs">?</Kbd>}>
          Keys
        </Menu.Item>
        <Menu.Label>Look</Menu.Label>
        {looks.map(({ value, label }) => (
          <Menu.Item
            key={value}
            role="menuitemradio"
            aria-checked={colorScheme === value}
            onClick={() => setColorScheme(value)}
            rightSection={colorScheme === value && <IconCheck size={14} aria-hidden />}
          >
            {label}
          </Menu.Item>
        ))}
        <Menu.Divider />
        {outside && (
          <Menu.Item component="a" href={outside} target="_blank" rel="noreferrer">
            Everybody’s mailboxes
          </Menu.Item>
        )}
        <Menu.Item onClick={() => void command({ run: () => signOut().unwrap() })}>
          Sign out
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
