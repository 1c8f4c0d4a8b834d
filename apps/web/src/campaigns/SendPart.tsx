// Sending: the figure in the button, and one look at what goes out before the word is given.
import { Button, Group, Modal } from '@mantine/core';
import type { TallyReply } from '@palabra/contract/campaigns';
import { useState, type ReactNode } from 'react';
import { LinePreview, pictureOf, useLetterQuery } from '../letters';
import { useOffice } from '../office';
import { command } from '../ui/command';
import { Mark, Marks } from '../ui/Marks';
import { Miniature } from '../ui/Miniature';
import { people } from '../ui/numbers';
import { Small, Soft } from '../ui/text';
import { clock, weekday } from '../ui/time';
import { useSendMutation, useTallyQuery } from './campaigns.api';
import classes from './campaigns.module.css';
import type { CampaignModel } from './useCampaign';

export function SendPart({
  model,
  proof,
}: {
  readonly model: CampaignModel;
  readonly proof: ReactNode;
}) {
  const { office } = useOffice();
  const { sendAt } = model.draft.value;
  const { data: tally } = useTallyQuery(model.id ?? 0, { skip: model.id === undefined });
  const [asking, setAsking] = useState(false);
  const stops = tally?.checks.filter(({ level }) => level === 'stop').length ?? 0;
  const receives = tally?.tally.receives ?? 0;
  const when =
    sendAt === null
      ? ''
      : ` on ${weekday(office.timeZone, sendAt)}, ${clock(office.timeZone, sendAt)}`;
  return (
    <>
      <Group>
        <Button disabled={!tally || stops > 0 || receives === 0} onClick={() => setAsking(true)}>
          {receives > 0 ? `Send to ${people(receives)}${when}` : 'Send'}
        </Button>
        {proof}
        {stops > 0 && (
          <Small>
            {stops} {stops === 1 ? 'check stops' : 'checks stop'} the send; see the margin.
          </Small>
        )}
      </Group>
      <Modal
        opened={asking && tally !== undefined}
        onClose={() => setAsking(false)}
        title={model.draft.value.name}
        size="lg"
      >
        {tally && (
          <LastLook model={model} tally={tally} when={when} onDone={() => setAsking(false)} />
        )}
      </Modal>
    </>
  );
}

interface LastLookProps {
  readonly model: CampaignModel;
  readonly tally: TallyReply;
  readonly when: string;
  readonly onDone: () => void;
}

function LastLook({ model: { id, draft }, tally, when, onDone }: LastLookProps) {
  const { user, office } = useOffice();
  const [send, sending] = useSendMutation();
  const { senderName, senderAddress, letterId, sendAt } = draft.value;
  const { data: letter } = useLetterQuery(letterId ?? 0, { skip: letterId === null });
  const whom = people(tally.tally.receives);
  const cautions = tally.checks.filter(({ level }) => level === 'caution');
  const go = async (): Promise<void> => {
    const version = await draft.flush();
    if (id !== undefined && version !== undefined)
      await command({ run: () => send({ id, version, seen: tally.tally }).unwrap() });
    onDone();
  };
  return (
    <div className={classes.asked}>
      {letter && (
        <Miniature
          src={pictureOf(letter.id, letter.version)}
          title="The letter"
          width={170}
          height={240}
        />
      )}
      <div>
        <p>
          <b>{letter && <LinePreview line={letter.content.subject} empty="no subject" />}</b>
          <br />
          <Soft>
            from {senderName}, {senderAddress}
          </Soft>
        </p>
        <Marks>
          {cautions.map((check, at) => (
            <Mark key={at} kind="caution" means="a caution">
              {check.text}
            </Mark>
          ))}
        </Marks>
        <p>{howItGoes(sendAt, when, office.holdSeconds)}</p>
        <p>
          <Small>A proof goes to {user.address}; have you looked at one?</Small>
        </p>
        <Group>
          <Button data-autofocus loading={sending.isLoading} onClick={() => void go()}>
            {sendAt === null ? `Send to ${whom} now` : `Send to ${whom}${when}`}
          </Button>
          {/* Once the word is given, it is taken back on the sheet, where the seconds run. */}
          <Button variant="subtle" color="gray" disabled={sending.isLoading} onClick={onDone}>
            Not yet
          </Button>
        </Group>
      </div>
    </div>
  );
}

function howItGoes(sendAt: string | null, when: string, holdSeconds: number): string {
  if (sendAt !== null) return `The letters go out${when}. Until then you can call it back.`;
  return holdSeconds > 0
    ? `The first letter leaves after ${holdSeconds} seconds; until then you can still say not yet. What has gone out can’t be called back.`
    : 'The letters go out at once. What has gone out can’t be called back.';
}
