// A letter of a person with all that they did with it, in one line that opens; the letter itself is seen on hover.
import type {
  EventKind,
  LetterHappening,
  LetterState,
  TimelineEntry,
} from '@palabra/contract/contacts';
import { useState, type ReactNode } from 'react';
import { useOffice } from '../office';
import { WithMiniature } from '../ui/Miniature';
import { count } from '../ui/numbers';
import { Name } from '../ui/Rows';
import { Act, Soft } from '../ui/text';
import { dayAndClock } from '../ui/time';
import classes from './contacts.module.css';

type Letter = Extract<TimelineEntry, { kind: 'letter' }>;

export function LetterEntry({ entry }: { readonly entry: Letter }) {
  const { office } = useOffice();
  const [isOpen, setOpen] = useState(false);
  const { id, name } = entry.campaign;
  const { happened, further, sentAt } = entry;
  const own = happened.filter(({ machine }) => machine === null);
  const machines = happened.length - own.length;
  const reply = own.find(({ kind, detail }) => kind === 'replied' && detail);
  const campaign = (
    <WithMiniature src={`/api/campaigns/${id}/letter.html`} title={`The letter of ${name}`}>
      <Name to={`/results/${id}`}>{name}</Name>
    </WithMiniature>
  );
  return (
    <>
      {stateWords[entry.state]({ campaign, detail: entry.detail })}
      {own.length > 0 && <>: {inWords(own)}</>}
      {machines > 0 && (
        <Soft>
          {own.length > 0 ? '; ' : ', '}
          {machines === 1 ? 'a machine' : `machines, ${count(machines)} times,`} looked, not counted
        </Soft>
      )}
      {happened.length > 0 && (
        <>
          {' '}
          <Act
            data-quiet
            aria-expanded={isOpen}
            aria-label={`When, ${name}`}
            onClick={() => setOpen(!isOpen)}
          >
            {isOpen ? 'less' : 'when'}
          </Act>
        </>
      )}
      {reply && <blockquote className={classes.reply}>{reply.detail}</blockquote>}
      {isOpen && (
        <ol className={classes.happened}>
          {happened.map((one, at) => (
            <li key={at}>
              <Soft>{dayAndClock(office.timeZone, one.at)}</Soft> {eventWords[one.kind](1)}
              {one.kind === 'clicked' && one.detail && ` “${one.detail}”`}
              {one.machine && <Soft> by a machine ({one.machine}); not counted</Soft>}
            </li>
          ))}
          {further > 0 && <li>and {count(further)} before</li>}
          {sentAt && (
            <li>
              <Soft>{dayAndClock(office.timeZone, sentAt)}</Soft> sent
            </li>
          )}
        </ol>
      )}
    </>
  );
}

const times = (number: number): string =>
  number === 1 ? '' : number === 2 ? ' twice' : ` ${count(number)} times`;

const eventWords: { readonly [K in EventKind]: (times: number) => string } = {
  opened: (number) => `opened${times(number)}`,
  clicked: () => 'clicked',
  replied: (number) => `replied${times(number)}`,
  'replied by itself': () => 'sent an automatic reply, not counted',
  left: () => 'left',
  complained: () => 'complained',
  bounced: () => 'came back',
  'came back': () => 'wanted letters again, by its link',
  'chose topics': () => 'chose topics, by its link',
  'changed own data': () => 'corrected own data, by its link',
};

/** “opened twice, clicked “Workshop dates””: what came first stands first. */
function inWords(own: readonly LetterHappening[]): ReactNode {
  const kinds = [...new Set([...own].reverse().map(({ kind }) => kind))];
  return kinds.map((kind, at) => {
    const of = own.filter((one) => one.kind === kind);
    const links = [...new Set(of.flatMap(({ detail }) => detail ?? []))].reverse();
    return (
      <span key={kind}>
        {at > 0 && ', '}
        {eventWords[kind](of.length)}
        {kind === 'clicked' &&
          (links.length > 0 ? (
            <>
              {' '}
              <b>{links.map((link) => `“${link}”`).join(', ')}</b>
            </>
          ) : (
            ' a link'
          ))}
      </span>
    );
  });
}

interface Said {
  readonly campaign: ReactNode;
  readonly detail: string | null;
}

const stateWords: { readonly [S in LetterState]: (said: Said) => ReactNode } = {
  sent: ({ campaign, detail }) => (
    <>
      Got {campaign}
      {detail && <Soft>, which came back later: {detail}</Soft>}
    </>
  ),
  bounced: ({ campaign, detail }) => (
    <>
      {campaign} came back <Soft>{detail}</Soft>
    </>
  ),
  'held back': ({ campaign, detail }) => (
    <>
      Held back from {campaign}: <Soft>{detail}</Soft>
    </>
  ),
  waiting: ({ campaign }) => <>{campaign} waits to go out</>,
  'handing over': ({ campaign }) => <>{campaign} is being handed over</>,
  deferred: ({ campaign, detail }) => (
    <>
      {campaign} was put off and is tried again <Soft>{detail}</Soft>
    </>
  ),
  stopped: ({ campaign }) => <>{campaign} was stopped before it went out</>,
  'gave up': ({ campaign, detail }) => (
    <>
      {campaign} was given up after several tries <Soft>{detail}</Soft>
    </>
  ),
  uncertain: ({ campaign, detail }) => (
    <>
      Nobody knows whether {campaign} arrived <Soft>{detail}</Soft>
    </>
  ),
};
