// What came back of one campaign: figures with their denominators, when, where they clicked, and the whole account.
import { Button } from '@mantine/core';
import type { ResultReply } from '@palabra/contract/results';
import { heldBackReasons } from '@palabra/core/campaigns';
import { type PeopleParts } from '@palabra/core/contacts';
import {
  figures,
  rateText,
  resultNumbers,
  type Figure,
  type ResultNumber,
} from '@palabra/core/results';
import { lazy, Suspense } from 'react';
import { Link, useParams } from 'react-router';
import { problemOf } from '../app/api';
import { Lost } from '../app/Lost';
import { useOffice } from '../office/OfficeContext';
import { count, Num, peoplePath, Sum } from '../ui/numbers';
import { MarginPart, Page } from '../ui/Page';
import { Empty, Ghost, Wrong } from '../ui/states';
import { clock, dayAndClock, day } from '../ui/time';
import { useResultQuery } from './results.api';

const ResponseChart = lazy(async () => ({
  default: (await import('./ResponseChart')).ResponseChart,
}));
const FRESH_MS = 3000;

export function ResultPage() {
  const id = Number(useParams()['id']);
  const { office } = useOffice();
  const result = useResultQuery(id, {
    skip: !Number.isInteger(id),
    refetchOnMountOrArgChange: true,
    pollingInterval: FRESH_MS,
    skipPollingIfUnfocused: true,
  });
  if (result.isError && !result.data)
    return problemOf(result.error).status === 404 ? (
      <Lost />
    ) : (
      <Wrong error={result.error} again={() => void result.refetch()} />
    );
  const data = result.data?.id === id ? result.data : undefined;
  if (!data) {
    return (
      <Page title="…" margin={<Ghost lines={8} />}>
        <Ghost lines={8} />
      </Page>
    );
  }
  const to: To = (part) => peoplePath(`campaign.${id}.${part}`);
  const sameDay =
    data.startedAt &&
    data.finishedAt &&
    day(office.timeZone, data.startedAt) === day(office.timeZone, data.finishedAt);
  return (
    <Page
      title={data.name}
      sub={
        data.startedAt
          ? `${data.finishedAt ? 'went out' : 'going out since'} ${dayAndClock(office.timeZone, data.startedAt)}${data.finishedAt ? ` to ${sameDay ? clock(office.timeZone, data.finishedAt) : dayAndClock(office.timeZone, data.finishedAt)}` : ''}`
          : 'not out yet'
      }
      actions={
        <Button component={Link} to={`/campaigns/${id}`} variant="default">
          The campaign
        </Button>
      }
      margin={<ResultMargin data={data} to={to} />}
    >
      {!data.startedAt ? (
        <Empty title="This campaign has not gone out yet">
          What comes back is counted here from the first letter on.
        </Empty>
      ) : (
        <>
          <Figures data={data} to={to} />
          <h2>
            When they opened and clicked{' '}
            <span className="soft small">
              {data.step === 'hour'
                ? 'for the first time, in the first three days'
                : 'for the first time'}
              ; dotted: by machines
            </span>
          </h2>
          {data.points.length === 0 ? (
            <p className="empty">
              Nothing has come back yet. Most opens come within the first day.
            </p>
          ) : (
            <Suspense fallback={<div style={{ height: 220 }} />}>
              <ResponseChart points={data.points} step={data.step} zone={office.timeZone} />
            </Suspense>
          )}
          <h2 style={{ marginTop: 20 }}>Where they clicked</h2>
          <Links data={data} to={to} />
        </>
      )}
    </Page>
  );
}

type To = (part: PeopleParts['campaign']) => string;

function Figures({ data, to }: { readonly data: ResultReply; readonly to: To }) {
  const all = figures(data.counts);
  const rate = (figure: Figure): string => {
    const text = rateText(figure);
    return text === '' ? '' : `, ${text} of ${figure.ofWhat}`;
  };
  return (
    <div className="figures five">
      <span>
        <Num value={all.delivered.count} to={to('delivered')} />
        <small>delivered{rate(all.delivered)}</small>
      </span>
      <span>
        <Num value={all.opened.count} to={to('opened')} />
        <small>opened{rate(all.opened)}</small>
      </span>
      <span>
        <Num value={all.clicked.count} to={to('clicked')} />
        <small>clicked{rate(all.clicked)}</small>
      </span>
      <span>
        <Num value={all.bounced.count} to={to('bounced')} />
        <small>bounced{rate(all.bounced)}</small>
      </span>
      <span>
        <Num value={all.left.count} to={to('left')} />
        <small>left{rate(all.left)}</small>
      </span>
    </div>
  );
}

function Links({ data, to }: { readonly data: ResultReply; readonly to: To }) {
  if (data.links.length === 0) return <p className="empty">The letter has no links.</p>;
  const most = Math.max(1, ...data.links.map(({ people }) => people));
  return (
    <div>
      {data.links.map((link) => (
        <div className="link-row" key={link.link}>
          <span title={link.url}>{link.label}</span>
          <span className="measure-bar accent" style={{ background: 'none' }}>
            <i style={{ width: `${(100 * link.people) / most}%` }} />
          </span>
          <span>
            <Num value={link.people} to={to(`link-${link.link}`)} label={`clicked ${link.label}`} />
            {link.machines > 0 && (
              <span className="soft small" title="people for whom a machine followed it">
                {' '}
                + {count(link.machines)} by machines
              </span>
            )}
          </span>
        </div>
      ))}
    </div>
  );
}

function ResultMargin({ data, to }: { readonly data: ResultReply; readonly to: To }) {
  const { counts, tally } = data;
  const heldBack = heldBackReasons.reduce((sum, reason) => sum + tally.heldBack[reason], 0);
  const less = (label: string, number: ResultNumber) =>
    counts[number] > 0
      ? [
          {
            label,
            value: counts[number],
            to: to(resultNumbers[number].part),
            kind: 'less' as const,
          },
        ]
      : [];
  return (
    <>
      <MarginPart title="Tally">
        <Sum
          label="Tally of the send"
          lines={[
            { label: 'matched', value: tally.matched, to: to('matched') },
            { label: 'held back', value: heldBack, to: to('held-back'), kind: 'less' },
            ...less('waiting', 'waiting'),
            ...less('stopped', 'stopped'),
            ...less('held back at the last moment', 'heldBackLate'),
            { label: 'sent', value: counts.sent, to: to('sent'), kind: 'total' },
            ...less('dead address', 'bouncedHard'),
            ...less('came back for now', 'bouncedSoft'),
            ...less('refused otherwise', 'bouncedOther'),
            ...less('put off so far', 'deferred'),
            ...less('gave up after tries', 'gaveUp'),
            ...less('uncertain', 'uncertain'),
            { label: 'delivered', value: counts.accepted, to: to('delivered'), kind: 'total' },
          ]}
        />
      </MarginPart>
      {counts.replied + counts.complained > 0 && (
        <MarginPart title="Wrote back">
          <p className="soft">
            {counts.replied > 0 && (
              <>
                <Num value={counts.replied} to={to('replied')} label="replied" /> replied
              </>
            )}
            {counts.replied > 0 && counts.complained > 0 && ', '}
            {counts.complained > 0 && (
              <>
                <Num value={counts.complained} to={to('complained')} label="complained" />{' '}
                complained
              </>
            )}
            . <Link to="/results/returned">The mail</Link>
          </p>
        </MarginPart>
      )}
      <MarginPart title="Machines, kept apart">
        <p className="soft">
          {counts.machineOpened + counts.machineClicked === 0 ? (
            'None showed themselves.'
          ) : (
            <>
              For <Num value={counts.machineOpened} to={to('machine-opened')} /> people a machine
              opened the letter
              {counts.machineClicked === 0 ? (
                '; none followed a link'
              ) : (
                <>
                  , for <Num value={counts.machineClicked} to={to('machine-clicked')} /> one
                  followed a link
                </>
              )}
              . They count in none of the figures.
            </>
          )}
        </p>
      </MarginPart>
      <MarginPart title="Not opened">
        <p className="soft">
          <Num value={counts.notOpened} to={to('not-opened')} /> of {count(counts.accepted)} have
          not opened it, as far as pictures tell.
        </p>
      </MarginPart>
    </>
  );
}
