// How a send goes: live figures, pause, go on, stop; the word that is needed when the tally changed; and the sheet as it went out.
import { Button } from '@mantine/core';
import type { CampaignReply } from '@palabra/contract/campaigns';
import { heldBackWords, noneHeldBack, wentOut, type HeldBackReason } from '@palabra/core/campaigns';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { statusWords, TallyPart, useMoveMutation, type Move } from '../campaigns';
import { Standstill, useMay, useOffice, useSeesEverybody, useStandstillsQuery } from '../office';
import { command } from '../ui/command';
import { count, Progressing } from '../ui/numbers';
import { MarginPart, Page } from '../ui/Page';
import { Ghost, Note } from '../ui/states';
import { Figure, Soft } from '../ui/text';
import { dayAndClock } from '../ui/time';
import { Planned } from './Planned';
import { Settling } from './Settling';
import { StandbyNote } from './Standby';
import { useUnderWay, type UnderWay as Going } from './useUnderWay';

const nothing = { matched: 0, heldBack: noneHeldBack, receives: 0 };

export function UnderWay({
  campaign,
  sheet,
}: {
  readonly campaign: CampaignReply;
  /** The sheet to read. */
  readonly sheet: ReactNode;
}) {
  const { office } = useOffice();
  const going = useUnderWay(campaign);
  const { status, progress, trouble, isMoving } = going;
  const [move] = useMoveMutation();
  const act = (step: Move): void =>
    void command({ run: () => move({ id: campaign.id, move: step }).unwrap() });
  return (
    <Page
      title={campaign.name}
      sub={
        <span role="status">
          {statusWords[status]}
          {campaign.startedAt && `, began ${dayAndClock(office.timeZone, campaign.startedAt)}`}
          {campaign.finishedAt && `, ended ${dayAndClock(office.timeZone, campaign.finishedAt)}`}
        </span>
      }
      actions={<Actions id={campaign.id} going={going} act={act} />}
      margin={<Margin campaign={campaign} status={status} />}
    >
      {isMoving && <StandbyNote />}
      <Standing id={campaign.id} isMoving={isMoving} />
      {trouble && (status === 'sending' || status === 'fixing') && (
        <Note kind="caution">{trouble}</Note>
      )}
      {status === 'scheduled' && campaign.sendAt && (
        <Planned sendAt={campaign.sendAt} senderName={campaign.senderName} act={act} />
      )}
      {status === 'fixing' && <Fixing progress={progress?.fixing ?? null} />}
      {status === 'differs' && <Differing campaign={campaign} act={act} />}
      {wentOut(status) &&
        (progress ? (
          <Settling id={campaign.id} status={status} progress={progress} />
        ) : (
          <Ghost lines={4} />
        ))}
      {sheet}
    </Page>
  );
}

function Actions({
  id,
  going: { status },
  act,
}: {
  readonly id: number;
  readonly going: Going;
  readonly act: (step: Move) => void;
}) {
  const maySend = useMay('send');
  return (
    <>
      {maySend && status === 'sending' && (
        <Button variant="default" onClick={() => act('pause')}>
          Pause
        </Button>
      )}
      {maySend && status === 'paused' && <Button onClick={() => act('go-on')}>Go on</Button>}
      {maySend && (status === 'sending' || status === 'paused') && (
        <Button variant="default" onClick={() => act('stop')}>
          Stop for good
        </Button>
      )}
      {wentOut(status) && (
        <Button
          component={Link}
          to={`/results/${id}`}
          variant={status === 'sent' ? 'filled' : 'default'}
        >
          Results
        </Button>
      )}
    </>
  );
}

function Margin({
  campaign,
  status,
}: {
  readonly campaign: CampaignReply;
  readonly status: Going['status'];
}) {
  const isOut = wentOut(status);
  return (
    <>
      <TallyPart
        campaign={campaign.id}
        tally={campaign.tally ?? campaign.ordered ?? nothing}
        done={isOut}
      />
      {campaign.differences.length > 0 && isOut && (
        <MarginPart title="Not as agreed">
          <p>
            <Soft>When it was ordered, the tally was another one:</Soft>
          </p>
          <Differences differences={campaign.differences} />
        </MarginPart>
      )}
    </>
  );
}

/** Work on this campaign that failed several times. */
function Standing({ id, isMoving }: { readonly id: number; readonly isMoving: boolean }) {
  const seesAll = useSeesEverybody();
  const { data } = useStandstillsQuery(undefined, {
    skip: !seesAll || !isMoving,
    pollingInterval: 15_000,
    skipPollingIfUnfocused: true,
  });
  return data
    ?.filter(({ work, thing }) => (work === 'sending' || work === 'fixing') && thing === id)
    .map((one) => <Standstill key={one.work} {...one} />);
}

function Fixing({ progress }: { readonly progress: { done: number; of: number } | null }) {
  const { done, of } = progress ?? { done: 0, of: 0 };
  return (
    <>
      <p>
        Writing down who gets it: <Figure>{count(done)}</Figure> of about {count(of)}. You can leave
        this page; it goes on.
      </p>
      <Progressing label="Progress" done={done} of={of} />
    </>
  );
}

function Differing({
  campaign,
  act,
}: {
  readonly campaign: CampaignReply;
  readonly act: (step: Move) => void;
}) {
  const maySend = useMay('send');
  const receives = campaign.tally?.receives ?? 0;
  return (
    <>
      <Note kind="caution">
        Between looking at the tally and sending, something changed. Nothing has gone out yet.
        <Differences differences={campaign.differences} />
        {maySend && (
          <Button.Group mt="sm">
            {receives > 0 && (
              <Button onClick={() => act('agree')}>Send to {count(receives)} people</Button>
            )}
            <Button variant="default" onClick={() => act('back-to-draft')}>
              Back to the draft
            </Button>
          </Button.Group>
        )}
      </Note>
    </>
  );
}

const lineWords = (line: 'matched' | 'receives' | HeldBackReason): string =>
  line === 'matched' ? 'matched' : line === 'receives' ? 'will receive' : heldBackWords[line].short;

function Differences({ differences }: { readonly differences: CampaignReply['differences'] }) {
  return (
    <table>
      <thead>
        <tr>
          <td />
          <th scope="col">you saw</th>
          <th scope="col">now</th>
        </tr>
      </thead>
      <tbody>
        {differences.map(({ line, seen, now }) => (
          <tr key={line}>
            <td>{lineWords(line)}</td>
            <td align="right">
              <Figure>{count(seen)}</Figure>
            </td>
            <td align="right">
              <Figure>{count(now)}</Figure>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
