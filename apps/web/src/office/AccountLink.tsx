// The link with which a colleague sets a password: mailed, or handed over in another way.
import { Button, CopyButton, Group, TextInput } from '@mantine/core';
import type { AccountLine, LinkReply } from '@palabra/contract/office';
import { useState } from 'react';
import { command } from '../ui/command';
import { Soft } from '../ui/text';
import { dayAndClock } from '../ui/time';
import { useMakeLinkMutation } from './office.api';
import { useOffice } from './OfficeContext';

export function AccountLink({
  account: { id, name, address, state },
  onDone,
}: {
  readonly account: AccountLine;
  readonly onDone: () => void;
}) {
  const { office } = useOffice();
  const [make, making] = useMakeLinkMutation();
  const [made, setMade] = useState<LinkReply & { readonly isMailed: boolean }>();
  const go = async (mail: boolean): Promise<void> => {
    const link = await command({ run: () => make({ id, mail }).unwrap() });
    if (link) setMade({ ...link, isMailed: mail });
  };
  if (made)
    return (
      <>
        <p>
          {made.isMailed ? `On its way to ${address}. ` : ''}
          Until {dayAndClock(office.timeZone, made.until)}, this link sets a password for {name},
          once. Who has it can sign in as {name}: give it to nobody else.
        </p>
        <Group align="end" mb="md">
          <TextInput flex={1} readOnly aria-label="The link" value={made.link} />
          <CopyButton value={made.link}>
            {({ copied, copy }) => (
              <Button variant="default" onClick={copy}>
                {copied ? 'Copied' : 'Copy'}
              </Button>
            )}
          </CopyButton>
          <Button variant="subtle" color="gray" onClick={onDone}>
            Done
          </Button>
        </Group>
      </>
    );
  return (
    <>
      <p>
        <Soft>
          {state === 'active'
            ? 'With this link a new password is set; the present one works until then.'
            : `${name} chooses a password with a link, and is in.`}
        </Soft>
      </p>
      <Group mb="md">
        <Button loading={making.isLoading} onClick={() => void go(true)}>
          Mail it to {address}
        </Button>
        <Button variant="default" disabled={making.isLoading} onClick={() => void go(false)}>
          Make a link to hand over
        </Button>
        <Button variant="subtle" color="gray" onClick={onDone}>
          Not now
        </Button>
      </Group>
    </>
  );
}
