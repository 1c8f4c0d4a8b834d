// How a send goes: live figures, pause, go on, stop; and the word that is needed when the tally changed.
import { Button } from '@mantine/core';
import type { CampaignReply, ProgressReply } from '@palabra/contract/campaigns';
import { heldBackWords, noneHeldBack, wentOut, type HeldBackReason } from '@palabra/core/campaigns';
import { type PeopleParts } from '@palabra/core/contacts';
import { useEffect, useState } from 'react';
import { useDispatch } from 'react-redux';
import { Link, useNavigate } from 'react-router';
import { api, problemOf } from '../app/api';
import { useStandstillsQuery } from '../office/office.api';
import { useMay, useOffice, useSeesEverybody } from '../office/OfficeContext';
import { Standstill } from '../office/Standstill';
import { count, Num, peoplePath, Sum } from '../ui/numbers';
import { MarginPart, Page } from '../ui/Page';
import { Ghost, Note } from '../ui/states';
import { dayAndClock } from '../ui/time';
import { useMoveMutation, useProgressQuery, useSettleMutation, type Move } from './campaigns.api';
import { StandbyNote } from './Standby';
import { TallyPart } from './TallyPart';
import { statusWords } from './words';

const nothing = { matched: 0, heldBack: noneHeldBack, receives: 0 };
const differenceWords = (line: 'matched' | 'receives' | HeldBackReason): string =>
  line === 'matched' ? 'matched' : line === 'receives' ? 'will receive' : heldBackWords[line].short;

/** The stream of progress, as long as something moves. */
function useLive(id: number, active: boolean): ProgressReply | undefined {
  const [live, setLive] = useState<ProgressReply>();
  const dispatch = useDispatch();
  useEffect(() => {
    if (!active) return undefined;
    const source = new EventSource(`/api/campaigns/${id}/live`);
    let status: string | undefined;
    source.onmessage = (event: MessageEvent<string>) => {
      const next = JSON.parse(event.data) as ProgressReply;
      setLive(next);
      if (status !== undefined && status !== next.status)
        dispatch(api.util.invalidateTags(['Campaigns', 'Results']));
      status = next.status;
      if (
        next.status === 'sent' ||
        next.status === 'stopped' ||
        next.status === 'differs' ||
        next.status === 'draft'
      ) {
        source.close();
        dispatch(api.util.invalidateTags(['Campaigns', 'Results', 'People', 'Person']));
      }
    };
    return () => source.close();
  }, [id, active, dispatch]);
  return live;
}

export function CampaignUnderWay({ campaign }: { readonly campaign: CampaignReply }) {
  const { office } = useOffice();
  const maySend = useMay('send');
  const navigate = useNavigate();
  const moving = ['scheduled', 'fixing', 'sending', 'paused'].includes(campaign.status);
  const live = useLive(campaign.id, moving);
  const still = useProgressQuery(campaign.id, { refetchOnMountOrArgChange: true });
  const progress = moving ? (live ?? still.data) : still.data;
  const status = moving ? (live?.status ?? campaign.status) : campaign.status;
  const [move] = useMoveMutation();
  const [settle] = useSettleMutation();
  const [error, setError] = useState<string>();
  const act = (step: Move): void => {
    setError(undefined);
    move({ id: campaign.id, move: step })
      .unwrap()
      .catch((reason: unknown) => setError(problemOf(reason).detail));
  };
  const to = (part: PeopleParts['campaign']): string =>
    peoplePath(`campaign.${campaign.id}.${part}`);
  const trouble = live?.trouble ?? campaign.trouble;
  const seesAll = useSeesEverybody();
  const standstills = useStandstillsQuery(undefined, {
    skip: !seesAll || !moving,
    pollingInterval: 15_000,
    skipPollingIfUnfocused: true,
  });
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
      actions={
        <>
          {maySend && status === 'sending' && (
            <Button variant="default" onClick={() => act('pause')}>
              Pause
            </Button>
          )}
          {maySend && status === 'paused' && <Button onClick={() => act('go-on')}>Go on</Button>}
          {maySend && (status === 'sending' || status === 'paused') && (
            <Button variant="default" color="red" onClick={() => act('stop')}>
              Stop for good
            </Button>
          )}
          {wentOut(status) && (
            <Button
              component={Link}
              to={`/results/${campaign.id}`}
              variant={status === 'sent' ? 'filled' : 'default'}
            >
              Results
            </Button>
          )}
        </>
      }
      margin={
        <>
          {status !== 'scheduled' && (
            <TallyPart
              campaign={campaign.id}
              tally={campaign.tally ?? nothing}
              done={wentOut(status)}
            />
          )}
          {campaign.differences.length > 0 && wentOut(status) && (
            <MarginPart title="Not as agreed">
              <p className="soft">When it was ordered, the tally was another one:</p>
              <Differences differences={campaign.differences} />
            </MarginPart>
          )}
        </>
      }
    >
      {moving && <StandbyNote />}
      {standstills.data
        ?.filter(
          ({ work, thing }) => (work === 'sending' || work === 'fixing') && thing === campaign.id,
        )
        .map((one) => (
          <Standstill key={one.work} {...one} />
        ))}
      {error && <Note kind="wrong">{error}</Note>}
      {trouble && (status === 'sending' || status === 'fixing') && (
        <Note kind="caution">{trouble}</Note>
      )}
      {status === 'scheduled' && campaign.sendAt && (
        <>
          <p>
            Goes out <b>{dayAndClock(office.timeZone, campaign.sendAt)}</b>, from{' '}
            {campaign.senderName}. Who receives it is written down at that moment.
          </p>
          {maySend && (
            <Button variant="default" onClick={() => act('unschedule')}>
              Call it back to a draft
            </Button>
          )}
        </>
      )}
      {status === 'fixing' && (
        <>
          <p>
            Writing down who gets it:{' '}
            <span className="figure">{count(progress?.fixing?.done ?? 0)}</span> of about{' '}
            {count(progress?.fixing?.of ?? 0)}. You can leave this page; it goes on.
          </p>
          <Bar
            parts={[[progress?.fixing?.done ?? 0, '']]}
            of={Math.max(progress?.fixing?.of ?? 1, 1)}
          />
        </>
      )}
      {status === 'differs' && (
        <>
          <Note kind="caution">
            Between looking at the tally and sending, something changed. Nothing has gone out yet.
          </Note>
          <div style={{ maxWidth: 460, marginBottom: 16 }}>
            <Differences differences={campaign.differences} />
          </div>
          {maySend && (
            <div className="sheet-line">
              {(campaign.tally?.receives ?? 0) > 0 && (
                <Button onClick={() => act('agree')}>
                  Send to {count(campaign.tally?.receives ?? 0)} people
                </Button>
              )}
              <Button variant="default" onClick={() => act('back-to-draft')}>
                Back to the draft
              </Button>
            </div>
          )}
        </>
      )}
      {wentOut(status) && !progress && <Ghost lines={4} />}
      {wentOut(status) && progress && (
        <>
          <p role="status">
            <b className="figure">{count(progress.total - progress.waiting - progress.deferred)}</b>{' '}
            of {count(progress.total)} letters are settled.
            {status === 'sending' && ' You can leave this page; it goes on.'}
          </p>
          <Bar
            parts={[
              [progress.accepted, ''],
              [
                progress.bounced +
                  progress.gaveUp +
                  progress.uncertain +
                  progress.stopped +
                  progress.heldBack,
                'caution',
              ],
            ]}
            of={Math.max(progress.total, 1)}
          />
          <div style={{ maxWidth: 420, marginTop: 16 }}>
            <Sum
              label="Where the letters are"
              lines={[
                { label: 'letters', value: progress.total, to: to('receives') },
                { label: 'waiting', value: progress.waiting, to: to('waiting'), kind: 'less' },
                ...(progress.deferred > 0 || status === 'sending'
                  ? [
                      {
                        label: 'put off, will be tried again',
                        value: progress.deferred,
                        to: to('deferred'),
                        kind: 'less' as const,
                      },
                    ]
                  : []),
                { label: 'bounced', value: progress.bounced, to: to('bounced'), kind: 'less' },
                ...(progress.gaveUp > 0
                  ? [
                      {
                        label: 'gave up after tries',
                        value: progress.gaveUp,
                        to: to('gave-up'),
                        kind: 'less' as const,
                      },
                    ]
                  : []),
                ...(progress.uncertain > 0
                  ? [
                      {
                        label: 'uncertain',
                        value: progress.uncertain,
                        to: to('uncertain'),
                        kind: 'less' as const,
                      },
                    ]
                  : []),
                ...(progress.stopped > 0
                  ? [
                      {
                        label: 'stopped',
                        value: progress.stopped,
                        to: to('stopped'),
                        kind: 'less' as const,
                      },
                    ]
                  : []),
                ...(progress.heldBack > 0
                  ? [
                      {
                        label: 'held back at the last moment',
                        value: progress.heldBack,
                        to: to('held-back-late'),
                        kind: 'less' as const,
                      },
                    ]
                  : []),
                {
                  label: 'accepted by the mail servers',
                  value: progress.accepted,
                  to: to('delivered'),
                  kind: 'total',
                },
              ]}
            />
          </div>
          {progress.uncertain > 0 && maySend && (
            <Note kind="caution">
              For <Num value={progress.uncertain} to={to('uncertain')} />{' '}
              {progress.uncertain === 1 ? 'letter' : 'letters'} the connection was lost at the very
              end: they may have arrived or not. They are not sent again by themselves.{' '}
              <button
                type="button"
                className="act"
                onClick={() => void settle({ id: campaign.id, how: 'count as sent' })}
              >
                Count them as sent
              </button>{' '}
              <button
                type="button"
                className="act"
                onClick={() => void settle({ id: campaign.id, how: 'send again' })}
              >
                Send them again
              </button>
            </Note>
          )}
          {status === 'sent' && (
            <p>
              Everything is on its way.{' '}
              <Link to={`/results/${campaign.id}`}>See what comes back</Link>, or{' '}
              <button type="button" className="act" onClick={() => void navigate('/')}>
                go to the desk
              </button>
              .
            </p>
          )}
        </>
      )}
    </Page>
  );
}

function Bar({
  parts,
  of,
}: {
  readonly parts: readonly (readonly [number, string])[];
  readonly of: number;
}) {
  return (
    <div
      className="progress"
      role="progressbar"
      aria-label="Progress"
      aria-valuemin={0}
      aria-valuemax={of}
      aria-valuenow={parts.reduce((sum, [value]) => sum + value, 0)}
    >
      {parts.map(([value, kind], at) => (
        <i key={at} className={kind} style={{ width: `${(100 * value) / of}%` }} />
      ))}
    </div>
  );
}

function Differences({ differences }: { readonly differences: CampaignReply['differences'] }) {
  return (
    <table className="sum">
      <thead>
        <tr className="soft small">
          <td />
          <td style={{ textAlign: 'right' }}>you saw</td>
          <td>now</td>
        </tr>
      </thead>
      <tbody>
        {differences.map(({ line, seen, now }) => (
          <tr key={line}>
            <td>{differenceWords(line)}</td>
            <td className="figure" style={{ textAlign: 'right' }}>
              {count(seen)}
            </td>
            <td className="figure">{count(now)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
