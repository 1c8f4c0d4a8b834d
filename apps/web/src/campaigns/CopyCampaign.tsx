// Again: to the same people, with a copy of the letter (the usual) or the letter itself.
import { Button, Group, Modal, Text } from '@mantine/core';
import type { CampaignLine } from '@palabra/contract/campaigns';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { command } from '../ui/command';
import { Act } from '../ui/text';
import { useAddCampaignMutation } from './campaigns.api';

export function CopyCampaign({ campaign: { id, name } }: { readonly campaign: CampaignLine }) {
  const [asking, setAsking] = useState(false);
  const [add, adding] = useAddCampaignMutation();
  const navigate = useNavigate();
  const copy = async (letter: 'copy' | 'same'): Promise<void> => {
    const made = await command({
      run: () =>
        add({
          name: `${name}, again`.slice(0, 120),
          copyOf: id,
          copiesLetter: letter === 'copy',
        }).unwrap(),
    });
    if (made) void navigate(`/campaigns/${made.id}`);
  };
  return (
    <>
      <Act aria-label={`Copy ${name}`} onClick={() => setAsking(true)}>
        Copy
      </Act>
      <Modal opened={asking} onClose={() => setAsking(false)} title={`Copy “${name}”`}>
        <Text>
          The new campaign goes to the same people, from the same sender. Its letter can be a copy,
          which is changed without changing the old one, or the same letter.
        </Text>
        <Group mt="md">
          <Button data-autofocus loading={adding.isLoading} onClick={() => void copy('copy')}>
            With a copy of the letter
          </Button>
          <Button variant="default" disabled={adding.isLoading} onClick={() => void copy('same')}>
            With the same letter
          </Button>
        </Group>
      </Modal>
    </>
  );
}
