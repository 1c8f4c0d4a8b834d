// Where the letters of a send are.
import type { ProgressReply } from '@palabra/contract/delivery';
import type { CampaignStatus } from '@palabra/core/campaigns';
import type { PeopleParts } from '@palabra/core/contacts';
import { Link } from 'react-router';
import { useMay } from '../office';
import { command } from '../ui/command';
import { count, Num, peoplePath, Progressing, Sum, type SumLine } from '../ui/numbers';
import { Note } from '../ui/states';
import { Act, Figure } from '../ui/text';
import classes from './delivery.module.css';
import { useSettleMutation } from './delivery.api';

interface SettlingProps {
  readonly id: number;
  readonly status: CampaignStatus;
  readonly progress: ProgressReply;
}

export function Settling({ id, status, progress }: SettlingProps) {
  const { total, waiting, deferred, accepted } = progress;
  const failed =
    progress.bounced + progress.gaveUp + progress.uncertain + progress.stopped + progress.heldBack;
  return (
    <>
      <p role="status">
        <b>
          <Figure>{count(total - waiting - deferred)}</Figure>
        </b>{' '}
        of {count(total)} letters are settled.
        {status === 'sending' && ' You can leave this page; it goes on.'}
        {status === 'sent' && (
          <>
            {' '}
            <Link to={`/results/${id}`}>See what comes back</Link>
          </>
        )}
      </p>
      <Progressing label="Progress" done={accepted} failed={failed} of={total} />
      <div className={classes.sum}>
        <Sum label="Where the letters are" lines={linesOf(id, status, progress)} />
      </div>
      {progress.uncertain > 0 && <Uncertain id={id} number={progress.uncertain} />}
    </>
  );
}

function linesOf(id: number, status: CampaignStatus, progress: ProgressReply): SumLine[] {
  const to = (part: PeopleParts['campaign']): string => peoplePath(`campaign.${id}.${part}`);
  const less = (
    label: string,
    value: number,
    part: PeopleParts['campaign'],
    always = false,
  ): SumLine[] => (value > 0 || always ? [{ label, value, to: to(part), kind: 'less' }] : []);
  return [
    { label: 'letters', value: progress.total, to: to('receives') },
    ...less('waiting', progress.waiting, 'waiting', true),
    ...less('put off, will be tried again', progress.deferred, 'deferred', status === 'sending'),
    ...less('bounced', progress.bounced, 'bounced', true),
    ...less('gave up after tries', progress.gaveUp, 'gave-up'),
    ...less('uncertain', progress.uncertain, 'uncertain'),
    ...less('stopped', progress.stopped, 'stopped'),
    ...less('held back at the last moment', progress.heldBack, 'held-back-late'),
    {
      label: 'accepted by the mail servers',
      value: progress.accepted,
      to: to('delivered'),
      kind: 'total',
    },
  ];
}

function Uncertain({ id, number }: { readonly id: number; readonly number: number }) {
  const [settle] = useSettleMutation();
  const maySend = useMay('send');
  if (!maySend) return null;
  const how = (word: 'count as sent' | 'send again'): void =>
    void command({ run: () => settle({ id, how: word }).unwrap() });
  return (
    <Note kind="caution">
      For <Num value={number} to={peoplePath(`campaign.${id}.uncertain`)} />{' '}
      {number === 1 ? 'letter' : 'letters'} the connection was lost at the very end: they may have
      arrived or not. They are not sent again by themselves.{' '}
      <Act onClick={() => how('count as sent')}>Count them as sent</Act>{' '}
      <Act onClick={() => how('send again')}>Send them again</Act>
    </Note>
  );
}
