// The sheet while it is a draft: everything is edited in place, in any order, and saved as it is made.
import { Button, Modal } from '@mantine/core';
import type { CampaignReply, TallyReply } from '@palabra/contract/campaigns';
import type { Who } from '@palabra/core/campaigns';
import type { CheckResult, Place } from '@palabra/core/letters';
import { momentOf, type LocalMoment } from '@palabra/core/office';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { problemOf } from '../app/api';
import { useVocabularyQuery } from '../contacts/contacts.api';
import { useLetterQuery, useLettersQuery } from '../letters/letters.api';
import { LinePreview } from '../letters/LinePreview';
import { useMay, useOffice } from '../office/OfficeContext';
import { useAutosave } from '../ui/autosave';
import { InPlace } from '../ui/InPlace';
import { count } from '../ui/numbers';
import { MarginPart, Page } from '../ui/Page';
import { SaveTrouble, SaveWord } from '../ui/SaveNote';
import { Ghost, Note, Wrong } from '../ui/states';
import { toInput, weekday, clock } from '../ui/time';
import { Words } from '../ui/Words';
import {
  useProofMutation,
  useSaveCampaignMutation,
  useSendMutation,
  useTallyQuery,
  useWhoCountsQuery,
} from './campaigns.api';
import { StandbyNote } from './Standby';
import { TallyPart } from './TallyPart';
import { WhoPart } from './WhoPart';

interface Draft {
  readonly name: string;
  readonly who: Who;
  readonly letterId: number | null;
  readonly topicId: number | null;
  readonly senderName: string;
  readonly senderAddress: string;
  readonly replyTo: string;
  readonly sendAt: string | null;
}

const draftOf = ({
  name,
  who,
  letterId,
  topicId,
  senderName,
  senderAddress,
  replyTo,
  sendAt,
}: CampaignReply): Draft => ({
  name,
  who,
  letterId,
  topicId,
  senderName,
  senderAddress,
  replyTo,
  sendAt,
});

export function CampaignSheet({
  campaign,
  refetch,
}: {
  readonly campaign: CampaignReply;
  readonly refetch: () => void;
}) {
  const may = useMay('write letters');
  const maySend = useMay('send');
  const { office } = useOffice();
  const [save] = useSaveCampaignMutation();
  const [draft, setDraft] = useState(() => draftOf(campaign));
  const [clocks, setClocks] = useState<LocalMoment['clocks']>();
  const auto = useAutosave<Draft>(campaign.version, (value, version) =>
    save({ id: campaign.id, version, ...value }).unwrap(),
  );
  const tally = useTallyQuery(campaign.id);
  const counts = useWhoCountsQuery(campaign.id);
  const change = (part: Partial<Draft>): void => {
    const next = { ...draft, ...part };
    setDraft(next);
    auto.change(next);
  };
  const rename = (name: string): void => {
    if (name === '') throw new Error('A campaign needs a name.');
    change({ name });
  };
  return (
    <Page
      title={draft.name}
      heading={
        <h1>
          <InPlace
            title
            label="Name of the campaign"
            value={draft.name}
            maxLength={120}
            disabled={!may}
            onSave={rename}
          />
        </h1>
      }
      sub={
        <>
          draft, <SaveWord state={auto.state} />
        </>
      }
      margin={
        <SheetMargin
          campaign={campaign.id}
          tally={tally.data}
          error={tally.error}
          letterId={draft.letterId}
          again={() => void tally.refetch()}
        />
      }
    >
      <StandbyNote />
      <SaveTrouble
        state={auto.state}
        what="campaign"
        onAgain={() => void auto.flush()}
        onMine={auto.keepMine}
        onTheirs={() => {
          refetch();
          window.location.reload();
        }}
      />
      <section className="sheet-part" id="who">
        <h2>Who</h2>
        <div>
          <WhoPart
            who={draft.who}
            names={campaign.names}
            counts={counts.data ?? {}}
            disabled={!may}
            onChange={(who) => change({ who })}
          />
        </div>
      </section>
      <section className="sheet-part" id="what">
        <h2>What</h2>
        <div>
          <WhatPart
            letterId={draft.letterId}
            disabled={!may}
            onChange={(letterId) => change({ letterId })}
          />
          <TopicLine
            topicId={draft.topicId}
            disabled={!may}
            onChange={(topicId) => change({ topicId })}
          />
        </div>
      </section>
      <section className="sheet-part" id="from">
        <h2>From</h2>
        <div>
          <div className="sheet-line">
            <label className="label" htmlFor="sender-name">
              name
            </label>
            <input
              id="sender-name"
              className="line-input"
              style={{ flex: '1 1 200px', maxWidth: 320 }}
              maxLength={120}
              disabled={!may}
              value={draft.senderName}
              onChange={(event) => change({ senderName: event.currentTarget.value })}
            />
          </div>
          <div className="sheet-line">
            <label className="label" htmlFor="sender-address">
              address
            </label>
            <input
              id="sender-address"
              type="email"
              className="line-input"
              style={{ flex: '1 1 200px', maxWidth: 320 }}
              maxLength={254}
              disabled={!may}
              value={draft.senderAddress}
              onChange={(event) => change({ senderAddress: event.currentTarget.value })}
            />
          </div>
          <div className="sheet-line">
            <label className="label" htmlFor="reply-to">
              replies to
            </label>
            <input
              id="reply-to"
              type="email"
              className="line-input"
              placeholder="the sender"
              style={{ flex: '1 1 200px', maxWidth: 320 }}
              maxLength={254}
              disabled={!may}
              value={draft.replyTo}
              onChange={(event) => change({ replyTo: event.currentTarget.value })}
            />
          </div>
        </div>
      </section>
      <section className="sheet-part" id="when">
        <h2>When</h2>
        <div>
          <div className="sheet-line">
            <Words
              label="When"
              value={draft.sendAt === null ? 'now' : 'at a time'}
              disabled={!may}
              options={['now', 'at a time']}
              onChange={(when) => {
                setClocks(undefined);
                change({
                  sendAt:
                    when === 'now'
                      ? null
                      : new Date(
                          Math.ceil((Date.now() + 3_600_000) / 3_600_000) * 3_600_000,
                        ).toISOString(),
                });
              }}
            />
            {draft.sendAt !== null && (
              <>
                <input
                  type="datetime-local"
                  aria-label="Day and time"
                  className="line-input"
                  disabled={!may}
                  value={toInput(office.timeZone, draft.sendAt)}
                  onChange={(event) => {
                    const moment = momentOf(office.timeZone, event.currentTarget.value);
                    setClocks(moment?.clocks);
                    if (moment) change({ sendAt: moment.at.toISOString() });
                  }}
                />
                <span className="soft">{office.timeZone.replaceAll('_', ' ')} time</span>
                {clocks === 'skipped' && (
                  <span className="caution" role="status">
                    The clocks skip that hour: it goes when they go on.
                  </span>
                )}
                {clocks === 'twice' && (
                  <span className="caution" role="status">
                    That hour comes twice: it goes the first time.
                  </span>
                )}
              </>
            )}
          </div>
        </div>
      </section>
      <section className="sheet-part">
        <span />
        {maySend ? (
          <SendPart campaign={campaign.id} draft={draft} tally={tally.data} flush={auto.flush} />
        ) : (
          <p className="soft">A coordinator sends this campaign.</p>
        )}
      </section>
    </Page>
  );
}

function WhatPart({
  letterId,
  disabled,
  onChange,
}: {
  readonly letterId: number | null;
  readonly disabled: boolean;
  readonly onChange: (id: number | null) => void;
}) {
  const letters = useLettersQuery();
  const letter = useLetterQuery(letterId ?? 0, { skip: letterId === null });
  const chosen = letterId === null ? undefined : letter.currentData;
  return (
    <>
      <div className="sheet-line">
        <span className="label">letter</span>
        <select
          className="plain-select"
          aria-label="Letter"
          disabled={disabled}
          value={letterId ?? ''}
          onChange={(event) =>
            onChange(event.currentTarget.value === '' ? null : Number(event.currentTarget.value))
          }
        >
          <option value="">none chosen yet</option>
          {letters.data?.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
          {letterId !== null && letters.data && !letters.data.some(({ id }) => id === letterId) && (
            <option value={letterId}>{chosen?.name ?? 'a letter that was deleted'}</option>
          )}
        </select>
        {letterId !== null && <Link to={`/letters/${letterId}`}>Write</Link>}
        {letterId !== null && <Link to={`/letters/${letterId}?show=wide`}>Preview</Link>}
        {letterId === null && <Link to="/letters">New letter</Link>}
      </div>
      {chosen && (
        <>
          <div className="sheet-line">
            <span className="label">subject</span>
            <span>
              <LinePreview line={chosen.content.subject} empty="no subject yet" />
            </span>
          </div>
          <div className="sheet-line">
            <span className="label">preview</span>
            <span className="soft">
              <LinePreview line={chosen.content.preview} empty="no preview line yet" />
            </span>
          </div>
        </>
      )}
    </>
  );
}

/** The kind of letter this is: who chose not to get it is held back. */
function TopicLine({
  topicId,
  disabled,
  onChange,
}: {
  readonly topicId: number | null;
  readonly disabled: boolean;
  readonly onChange: (id: number | null) => void;
}) {
  const { data } = useVocabularyQuery();
  if (!data || data.topics.length === 0) return null;
  return (
    <div className="sheet-line">
      <span className="label">topic</span>
      <select
        className="plain-select"
        aria-label="Topic"
        disabled={disabled}
        value={topicId ?? ''}
        onChange={(event) =>
          onChange(event.currentTarget.value === '' ? null : Number(event.currentTarget.value))
        }
      >
        <option value="">no topic: for everybody</option>
        {data.topics.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </div>
  );
}

interface SheetMarginProps {
  readonly campaign: number;
  readonly tally: TallyReply | undefined;
  readonly error: unknown;
  readonly letterId: number | null;
  readonly again: () => void;
}

function SheetMargin({ campaign, tally, error, letterId, again }: SheetMarginProps) {
  if (error) return <Wrong error={error} again={again} />;
  if (!tally) return <Ghost lines={8} />;
  const passed = tally.checks.filter(({ level }) => level === 'passed');
  return (
    <>
      <TallyPart campaign={campaign} tally={tally.tally} />
      <MarginPart title="Checks" aside={`${passed.length} of ${tally.checks.length}`}>
        <ul className="checks">
          {tally.checks
            .filter(({ level }) => level !== 'passed')
            .map((check, at) => (
              <Check key={at} check={check} letterId={letterId} />
            ))}
          {passed.length > 0 && (
            <li>
              <span className="sign good" title="passed">
                ✓
              </span>
              <span className="soft">{passed.map(({ text }) => text).join(', ')}</span>
            </li>
          )}
        </ul>
      </MarginPart>
    </>
  );
}

function Check({
  check,
  letterId,
}: {
  readonly check: CheckResult;
  readonly letterId: number | null;
}) {
  const isStop = check.level === 'stop';
  return (
    <li>
      <span
        className={`sign ${isStop ? 'wrong' : 'caution'}`}
        title={isStop ? 'stops the send' : 'a caution'}
      >
        {isStop ? '!' : '?'}
      </span>
      <span>
        {check.text} {check.place && <GoThere place={check.place} letterId={letterId} />}
      </span>
    </li>
  );
}

function GoThere({ place, letterId }: { readonly place: Place; readonly letterId: number | null }) {
  const navigate = useNavigate();
  const go = (): void => {
    if (place.at === 'settings') return void navigate('/settings');
    if (
      letterId !== null &&
      (place.at === 'letter' || place.at === 'subject' || place.at === 'preview')
    )
      return void navigate(`/letters/${letterId}?at=${place.block ?? place.at}`);
    const part = document.getElementById(
      place.at === 'who' || place.at === 'from' || place.at === 'when' ? place.at : 'what',
    );
    part?.scrollIntoView({ block: 'center' });
    part?.querySelector<HTMLElement>('button, input, select')?.focus();
  };
  return (
    <button type="button" className="act" onClick={go}>
      Go there
    </button>
  );
}

interface SendPartProps {
  readonly campaign: number;
  readonly draft: Draft;
  readonly tally: TallyReply | undefined;
  readonly flush: () => Promise<number | undefined>;
}

function SendPart({ campaign, draft, tally, flush }: SendPartProps) {
  const { user, office } = useOffice();
  const [proof, proofing] = useProofMutation();
  const [send, sending] = useSendMutation();
  const [asking, setAsking] = useState(false);
  const [said, setSaid] = useState<{ kind: 'good' | 'wrong'; text: string }>();
  const stops = tally?.checks.filter(({ level }) => level === 'stop').length ?? 0;
  const receives = tally?.tally.receives ?? 0;
  const when =
    draft.sendAt === null
      ? ''
      : ` on ${weekday(office.timeZone, draft.sendAt)}, ${clock(office.timeZone, draft.sendAt)}`;
  const people = `${count(receives)} ${receives === 1 ? 'person' : 'people'}`;

  const proofNow = async (): Promise<void> => {
    if ((await flush()) === undefined) return;
    try {
      const { to } = await proof(campaign).unwrap();
      setSaid({ kind: 'good', text: `A proof is on its way to ${to}. It is counted nowhere.` });
    } catch (error) {
      setSaid({ kind: 'wrong', text: problemOf(error).detail });
    }
  };
  const sendNow = async (): Promise<void> => {
    const version = await flush();
    if (!tally || version === undefined) return;
    try {
      await send({ id: campaign, version, seen: tally.tally }).unwrap();
    } catch (error) {
      setSaid({ kind: 'wrong', text: problemOf(error).detail });
    } finally {
      setAsking(false);
    }
  };
  return (
    <div>
      {said && (
        <div role="status">
          <Note kind={said.kind}>{said.text}</Note>
        </div>
      )}
      <div className="sheet-line">
        <Button disabled={!tally || stops > 0 || receives === 0} onClick={() => setAsking(true)}>
          {tally && receives > 0 ? `Send to ${people}${when}` : 'Send'}
        </Button>
        <Button
          variant="default"
          disabled={draft.letterId === null}
          loading={proofing.isLoading}
          onClick={() => void proofNow()}
        >
          Proof to myself
        </Button>
        {stops > 0 && (
          <span className="soft small">
            {stops} {stops === 1 ? 'check stops' : 'checks stop'} the send; see the margin.
          </span>
        )}
      </div>
      <Modal opened={asking} onClose={() => setAsking(false)} title={<b>{draft.name}</b>}>
        <p>
          {draft.sendAt === null ? 'The letters go out at once' : `The letters go out${when}`}, from{' '}
          {draft.senderName} to {people}.{' '}
          {draft.sendAt === null
            ? 'What has gone out can’t be called back.'
            : 'Until then you can call it back.'}
        </p>
        <p className="soft small">A proof goes to {user.address}; have you looked at one?</p>
        <div className="sheet-line">
          <Button data-autofocus loading={sending.isLoading} onClick={() => void sendNow()}>
            {draft.sendAt === null ? `Send to ${people} now` : `Send to ${people}${when}`}
          </Button>
          <Button variant="subtle" color="gray" onClick={() => setAsking(false)}>
            Not yet
          </Button>
        </div>
      </Modal>
    </div>
  );
}
