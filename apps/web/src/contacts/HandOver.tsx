// Whom one colleague looks after, given to another.
import { Button, Group } from '@mantine/core';
import type { Account } from '@palabra/contract/office';
import { useState } from 'react';
import { command } from '../ui/command';
import { Pick } from '../ui/Pick';
import { Soft } from '../ui/text';
import { tellChange } from './changes';
import { useHandOverMutation, useVocabularyQuery } from './contacts.api';

export function HandOver({
  from,
  onDone,
}: {
  readonly from: Account;
  readonly onDone: () => void;
}) {
  const { data } = useVocabularyQuery();
  const [handOver, handing] = useHandOverMutation();
  const [to, setTo] = useState<string | null>(null);
  const go = async (): Promise<void> => {
    const change = await command({
      run: () => handOver({ from: from.id, to: Number(to) }).unwrap(),
    });
    if (!change) return;
    tellChange(change.id);
    onDone();
  };
  return (
    <>
      <p>
        <Soft>
          Everybody whom {from.name} looks after gets another owner. It can be undone for thirty
          days.
        </Soft>
      </p>
      <Group mb="md">
        to
        <Pick
          label="Who looks after them from now on"
          value={to}
          placeholder="choose a colleague"
          options={
            data?.owners
              .filter(({ key }) => key !== String(from.id))
              .map(({ key, label }) => ({ value: key, label })) ?? []
          }
          onChange={setTo}
        />
        <Button disabled={to === null} loading={handing.isLoading} onClick={() => void go()}>
          Hand over
        </Button>
        <Button variant="subtle" color="gray" onClick={onDone}>
          Not now
        </Button>
      </Group>
    </>
  );
}
