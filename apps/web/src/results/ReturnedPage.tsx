// Mail that came back: what was read by itself, and what waits to be sorted by hand.
import { Button } from '@mantine/core';
import type { ReturnedReply, SortReturnedRequest } from '@palabra/contract/campaigns';
import { displayName } from '@palabra/core/contacts';
import type { BounceKind, Evidence, ReturnedKind } from '@palabra/core/delivery';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { problemOf } from '../app/api';
import { useReturnedQuery, useSortReturnedMutation } from '../campaigns/campaigns.api';
import { PersonChooser } from '../contacts/PersonChooser';
import { useMay, useOffice, useSeesEverybody } from '../office/OfficeContext';
import { count } from '../ui/numbers';
import { MarginPart, Page } from '../ui/Page';
import { Empty, Ghost, Note, Wrong } from '../ui/states';
import { dayAndClock } from '../ui/time';
import { Words } from '../ui/Words';

const kindWords: Record<ReturnedKind, string> = {
  bounce: 'came back',
  complaint: 'complaint',
  reply: 'reply',
  'auto-reply': 'automatic reply',
  challenge: 'asks whether a human wrote',
  leave: 'wants no more letters',
  delay: 'is delayed',
  receipt: 'has arrived',
  unread: 'could not be read',
};
const bounceWords: Record<BounceKind, string> = {
  hard: 'the address is dead',
  soft: 'not now',
  policy: 'refused by a rule of theirs',
  other: 'for another reason',
};
const evidenceWords: Record<Evidence, string> = {
  envelope: 'the address it was sent to',
  headers: 'its headers',
  original: 'the letter quoted in it',
  address: 'only an address in it',
  'by hand': 'somebody of the office',
};

export function ReturnedPage() {
  const [search, setSearch] = useSearchParams();
  const open = search.get('all') === null;
  const [before, setBefore] = useState<number>();
  const seesAll = useSeesEverybody();
  const found = useReturnedQuery(
    { open: open ? 'yes' : 'no', before },
    { refetchOnMountOrArgChange: true, pollingInterval: 10_000, skipPollingIfUnfocused: true },
  );
  const data = found.data;
  return (
    <Page
      title="Mail that came back"
      sub={data && (data.open === 0 ? 'everything is seen to' : `${count(data.open)} to see to`)}
      margin={
        <MarginPart title="How it is read">
          <p className="soft">
            Notices, complaints and replies are matched with their letter by the address they were
            sent to, by their headers, or by the letter they quote. What names only an address, or
            can’t be read, waits here for a person: nobody is put on do not mail on a guess.
          </p>
          <p className="soft">
            Out-of-office answers are kept apart from replies and count nowhere as a response. A
            question whether a human wrote counts as nothing; it waits here in case you want to
            answer it.
          </p>
        </MarginPart>
      }
    >
      {!seesAll ? (
        <Empty title="For the coordinator">
          Returned mail is sorted by a coordinator. What it says about your own people stands on
          their pages.
        </Empty>
      ) : (
        <>
          <Words
            label="Show"
            value={open ? 'to see to' : 'everything'}
            options={['to see to', 'everything']}
            onChange={(which) => {
              setBefore(undefined);
              setSearch(which === 'everything' ? { all: '' } : {});
            }}
          />
          {found.isError && <Wrong error={found.error} again={() => void found.refetch()} />}
          {!data && found.isLoading && <Ghost lines={6} />}
          {data?.mails.length === 0 && (
            <Empty title={open ? 'Nothing to see to' : 'Nothing has come back yet'}>
              {open
                ? 'What comes back and can’t be matched with certainty waits in this place.'
                : 'Notices of dead addresses, complaints and replies are kept here as they come in.'}
            </Empty>
          )}
          <ul className="rows" style={{ marginTop: 8 }}>
            {data?.mails.map((mail) => (
              <Mail key={mail.id} mail={mail} />
            ))}
          </ul>
          {data?.before && (
            <button
              type="button"
              className="act"
              onClick={() => setBefore(data.before ?? undefined)}
            >
              Earlier
            </button>
          )}
        </>
      )}
    </Page>
  );
}

function Mail({ mail }: { readonly mail: ReturnedReply }) {
  const { office } = useOffice();
  const may = useMay('send');
  const [shown, setShown] = useState(false);
  const name =
    mail.person &&
    displayName(
      { given: mail.person.givenName, family: mail.person.familyName },
      mail.person.address,
    );
  return (
    <li style={{ display: 'block' }}>
      <div style={{ display: 'flex', gap: 16, alignItems: 'baseline' }}>
        <span className="when">{dayAndClock(office.timeZone, mail.at)}</span>
        <span className="what">
          <b>{mail.subject || 'no subject'}</b>{' '}
          <span className="soft">from {mail.sender || 'nobody'}</span>
          <br />
          <span className="soft">
            {kindWords[mail.kind]}
            {mail.bounce && `, ${bounceWords[mail.bounce]}`}
            {mail.person && (
              <>
                {mail.isOpen && mail.evidence === 'address' ? '; it may be about ' : ': '}
                <Link to={`/contacts/${mail.person.id}`}>{name}</Link>
              </>
            )}
            {mail.campaign && (
              <>
                , <Link to={`/results/${mail.campaign.id}`}>{mail.campaign.name}</Link>
              </>
            )}
            {mail.evidence && ` (known by ${evidenceWords[mail.evidence]})`}
          </span>
        </span>
        <button
          type="button"
          className="act"
          aria-expanded={shown}
          onClick={() => setShown(!shown)}
        >
          {shown ? 'Close' : mail.isOpen && may ? 'See to it' : 'Read'}
        </button>
      </div>
      {shown && (
        <div style={{ margin: '8px 0 4px 132px' }}>
          {mail.diagnosis && <p className="figure small">{mail.diagnosis}</p>}
          <pre className="returned-text">{mail.excerpt || 'The message has no text.'}</pre>
          {mail.isOpen && may && <Sort mail={mail} />}
        </div>
      )}
    </li>
  );
}

const choices: readonly {
  readonly label: string;
  readonly request: Pick<SortReturnedRequest, 'kind' | 'bounce'>;
}[] = [
  { label: 'The address is dead', request: { kind: 'bounce', bounce: 'hard' } },
  { label: 'Came back for now', request: { kind: 'bounce', bounce: 'soft' } },
  { label: 'A complaint', request: { kind: 'complaint' } },
  { label: 'Wants no more letters', request: { kind: 'leave' } },
  { label: 'A reply', request: { kind: 'reply' } },
  { label: 'Out of the office', request: { kind: 'auto-reply' } },
];

function Sort({ mail }: { readonly mail: ReturnedReply }) {
  const [sort, sorting] = useSortReturnedMutation();
  const [person, setPerson] = useState(mail.person?.id);
  const [wrong, setWrong] = useState<string>();
  const send = async (request: SortReturnedRequest): Promise<void> => {
    setWrong(undefined);
    try {
      await sort({ id: mail.id, ...request }).unwrap();
    } catch (error) {
      setWrong(problemOf(error).detail);
    }
  };
  return (
    <div>
      {wrong && (
        <div role="alert">
          <Note kind="wrong">{wrong}</Note>
        </div>
      )}
      {mail.kind === 'reply' ? (
        <Button
          variant="default"
          loading={sorting.isLoading}
          onClick={() => void send({ kind: 'nothing' })}
        >
          Seen to
        </Button>
      ) : (
        <>
          <div className="sheet-line">
            <span className="label">whose it is</span>
            <PersonChooser nobody="choose a person" value={person} onChange={setPerson} />
          </div>
          <div className="sheet-line" style={{ gap: 8 }}>
            {choices.map(({ label, request }) => (
              <Button
                key={label}
                size="compact-sm"
                variant="default"
                disabled={sorting.isLoading || person === undefined}
                onClick={() => void send({ ...request, contact: person })}
              >
                {label}
              </Button>
            ))}
            <Button
              size="compact-sm"
              variant="subtle"
              color="gray"
              disabled={sorting.isLoading}
              onClick={() => void send({ kind: 'nothing' })}
            >
              None of these
            </Button>
          </div>
        </>
      )}
    </div>
  );
}
