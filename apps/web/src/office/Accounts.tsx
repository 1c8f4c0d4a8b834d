// Who works here: who signs in and as what, who only looks after people, and who has left.
import { Group, Menu, ActionIcon } from '@mantine/core';
import type { AccountLine } from '@palabra/contract/office';
import type { AccountState } from '@palabra/core/office';
import { IconDots } from '@tabler/icons-react';
import { useState, type ReactNode } from 'react';
import { command } from '../ui/command';
import { Row, Rows } from '../ui/Rows';
import { Ghost, Wrong } from '../ui/states';
import { Act, Soft } from '../ui/text';
import { ago } from '../ui/time';
import { AccountForm } from './AccountForm';
import { AccountLink } from './AccountLink';
import { useAccountsQuery, useMoveAccountMutation } from './office.api';
import { useOffice } from './OfficeContext';

export const stateWords: Record<AccountState, string> = {
  active: '',
  invited: 'invited, not in yet',
  'no sign-in': 'never signs in',
  closed: 'closed',
};

interface AccountsProps {
  readonly may: boolean;
  /** How one hands over whom a colleague looks after. */
  readonly handOver: (from: AccountLine, onDone: () => void) => ReactNode;
}

type Doing =
  | { readonly kind: 'add' }
  | { readonly kind: 'change' | 'link' | 'hand over'; readonly id: number };

export function Accounts({ may, handOver }: AccountsProps) {
  const { data, error, refetch } = useAccountsQuery();
  const [doing, setDoing] = useState<Doing>();
  const done = (): void => setDoing(undefined);
  if (error !== undefined) return <Wrong error={error} again={() => void refetch()} />;
  if (!data) return <Ghost lines={4} />;
  return (
    <>
      <Rows>
        {data.map((account) => {
          const own = doing && doing.kind !== 'add' && doing.id === account.id ? doing.kind : '';
          return (
            <Row key={account.id} end={<End account={account} may={may} onDo={setDoing} />}>
              <Who account={account} />
              {own === 'change' && <AccountForm account={account} onDone={done} />}
              {own === 'link' && <AccountLink account={account} onDone={done} />}
              {own === 'hand over' && handOver(account, done)}
            </Row>
          );
        })}
      </Rows>
      {may &&
        (doing?.kind === 'add' ? (
          <AccountForm
            onDone={done}
            onMade={(id, signsIn) => setDoing(signsIn ? { kind: 'link', id } : undefined)}
          />
        ) : (
          <Act onClick={() => setDoing({ kind: 'add' })}>+ colleague</Act>
        ))}
    </>
  );
}

function Who({ account: { name, address, state, seenAt } }: { readonly account: AccountLine }) {
  const { office } = useOffice();
  const more = [
    address,
    stateWords[state],
    state === 'active' && seenAt ? `last here ${ago(office.timeZone, seenAt)}` : '',
  ].filter(Boolean);
  return (
    <>
      <b>{name}</b> <Soft>{more.join(' · ')}</Soft>
    </>
  );
}

function End({
  account,
  may,
  onDo,
}: {
  readonly account: AccountLine;
  readonly may: boolean;
  readonly onDo: (doing: Doing) => void;
}) {
  const { user } = useOffice();
  const [move] = useMoveAccountMutation();
  const { id, name, role, state } = account;
  const go = (to: 'close' | 'open'): void =>
    void command({
      run: () => move({ id, move: to }).unwrap(),
      says: () =>
        to === 'close' ? `${name} can’t sign in any more.` : `${name} can sign in again.`,
      undo: () => move({ id, move: to === 'close' ? 'open' : 'close' }).unwrap(),
    });
  const isClosed = state === 'closed';
  return (
    <Group gap={6} wrap="nowrap">
      {role}
      {may && (
        <Menu position="bottom-end">
          <Menu.Target>
            <ActionIcon aria-label={`What to do with ${name}`}>
              <IconDots size={16} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            {!isClosed && (
              <Menu.Item onClick={() => onDo({ kind: 'change', id })}>Change …</Menu.Item>
            )}
            {!isClosed && account.address && (
              <Menu.Item onClick={() => onDo({ kind: 'link', id })}>
                {state === 'active' ? 'A link for a new password …' : 'Invite …'}
              </Menu.Item>
            )}
            <Menu.Item onClick={() => onDo({ kind: 'hand over', id })}>
              Hand over their people …
            </Menu.Item>
            {id !== user.id && (
              <Menu.Item onClick={() => go(isClosed ? 'open' : 'close')}>
                {isClosed ? 'Open again' : 'Close'}
              </Menu.Item>
            )}
          </Menu.Dropdown>
        </Menu>
      )}
    </Group>
  );
}
