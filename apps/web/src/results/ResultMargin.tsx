// The whole account of a send, and what counts in none of its figures.
import type { ResultReply } from '@palabra/contract/results';
import { heldBackReasons } from '@palabra/core/campaigns';
import type { PeopleParts } from '@palabra/core/contacts';
import { resultNumbers, type ResultNumber } from '@palabra/core/results';
import { Link } from 'react-router';
import { count, Num, Sum, type SumLine } from '../ui/numbers';
import { MarginPart } from '../ui/Page';
import { Soft } from '../ui/text';

/** Where the people of a part of the result are. */
export type To = (part: PeopleParts['campaign']) => string;

interface Props {
  readonly data: ResultReply;
  readonly to: To;
}

export function ResultMargin({ data, to }: Props) {
  const { counts } = data;
  return (
    <>
      <MarginPart title="Tally">
        <Sum label="Tally of the send" lines={tallyLines(data, to)} />
      </MarginPart>
      {counts.replied + counts.complained > 0 && (
        <MarginPart title="Wrote back">
          <WroteBack data={data} to={to} />
        </MarginPart>
      )}
      <MarginPart title="Machines, kept apart">
        <Machines data={data} to={to} />
      </MarginPart>
      <MarginPart title="Not opened">
        <Soft>
          <Num value={counts.notOpened} to={to('not-opened')} /> of {count(counts.accepted)} have
          not opened it, as far as pictures tell.
        </Soft>
      </MarginPart>
    </>
  );
}

function tallyLines({ counts, tally }: ResultReply, to: To): SumLine[] {
  const heldBack = heldBackReasons.reduce((sum, reason) => sum + tally.heldBack[reason], 0);
  const less = (label: string, number: ResultNumber): SumLine[] =>
    counts[number] > 0
      ? [{ label, value: counts[number], to: to(resultNumbers[number].part), kind: 'less' }]
      : [];
  return [
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
  ];
}

function WroteBack({ data: { counts }, to }: Props) {
  return (
    <Soft>
      {counts.replied > 0 && (
        <>
          <Num value={counts.replied} to={to('replied')} label="replied" /> replied
        </>
      )}
      {counts.replied > 0 && counts.complained > 0 && ', '}
      {counts.complained > 0 && (
        <>
          <Num value={counts.complained} to={to('complained')} label="complained" /> complained
        </>
      )}
      . <Link to="/results/returned">The mail</Link>
    </Soft>
  );
}

function Machines({ data: { counts }, to }: Props) {
  if (counts.machineOpened + counts.machineClicked === 0)
    return <Soft>None showed themselves.</Soft>;
  return (
    <Soft>
      For <Num value={counts.machineOpened} to={to('machine-opened')} /> people a machine opened the
      letter
      {counts.machineClicked === 0 ? (
        '; none followed a link'
      ) : (
        <>
          , for <Num value={counts.machineClicked} to={to('machine-clicked')} /> one followed a link
        </>
      )}
      . They count in none of the figures.
    </Soft>
  );
}
