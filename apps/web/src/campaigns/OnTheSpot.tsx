// A group made where the campaign is put together: kept as a segment for later, or just for this campaign.
import { Button, Group, Modal, Stack, TextInput } from '@mantine/core';
import type { WhoRef } from '@palabra/core/campaigns';
import { emptyRule, unfinished, type Rule } from '@palabra/core/segments';
import { useState } from 'react';
import { useVocabularyQuery } from '../contacts';
import {
  RuleOnTheSpot,
  useAddSegmentMutation,
  useKeepFilterMutation,
  useRuleContext,
} from '../segments';
import { command } from '../ui/command';
import { Act } from '../ui/text';
import { useChooseMutation } from './campaigns.api';

export function OnTheSpot({ onMade }: { readonly onMade: (who: WhoRef) => void }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <Act onClick={() => setOpen(true)}>+ made here</Act>
      {isOpen && (
        <Made
          onMade={(who) => {
            setOpen(false);
            onMade(who);
          }}
          onClose={() => setOpen(false)}
        />
      )}
    </>
  );
}

function Made({
  onMade,
  onClose,
}: {
  readonly onMade: (who: WhoRef) => void;
  readonly onClose: () => void;
}) {
  const [rule, setRule] = useState<Rule>(emptyRule);
  const [name, setName] = useState('');
  const context = useRuleContext();
  const house = useVocabularyQuery().data?.pools.find(({ kind }) => kind === 'house')?.id ?? 1;
  const [keep, keeping] = useKeepFilterMutation();
  const [choose, choosing] = useChooseMutation();
  const [add, adding] = useAddSegmentMutation();
  const isWhole = unfinished(rule, context).length === 0;
  const justHere = async (): Promise<void> => {
    const made = await command({
      run: async () => {
        const { key } = await keep({ rule }).unwrap();
        return choose({ people: { filter: key, pool: house } }).unwrap();
      },
    });
    if (made) onMade({ kind: 'people', id: made.id });
  };
  const asSegment = async (): Promise<void> => {
    const made = await command({ run: () => add({ name, rule }).unwrap() });
    if (made) onMade({ kind: 'segment', id: made.id });
  };
  return (
    <Modal opened size="xl" title="A group for this campaign" onClose={onClose}>
      <Stack gap="md">
        <RuleOnTheSpot rule={rule} pool={house} onChange={setRule} />
        <Group align="end">
          <Button
            variant="default"
            disabled={!isWhole}
            loading={keeping.isLoading || choosing.isLoading}
            onClick={() => void justHere()}
          >
            Use it here only
          </Button>
          <TextInput
            label="Or keep it as a segment called"
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.currentTarget.value)}
          />
          <Button
            disabled={!isWhole || name.trim() === ''}
            loading={adding.isLoading}
            onClick={() => void asSegment()}
          >
            Keep and use it
          </Button>
        </Group>
      </Stack>
    </Modal>
  );
}
