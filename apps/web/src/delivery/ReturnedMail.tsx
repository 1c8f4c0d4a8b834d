// One message that came back: what it is taken for and why; opened, its text and what can be said of it.
import { Button, Collapse, Group } from '@mantine/core';
import type { ReturnedReply, SortReturnedRequest } from '@palabra/contract/delivery';
import { displayName } from '@palabra/core/contacts';
import type { BounceKind, Evidence, ReturnedKind } from '@palabra/core/delivery';
import { useState } from 'react';
import { Link } from 'react-router';
import { PersonChooser } from '../contacts';
import { useMay, useOffice } from '../office';
import { command } from '../ui/command';
import { Row } from '../ui/Rows';
import { SheetLine } from '../ui/Sheet';
import { Act, Figure, Soft } from '../ui/text';
import { dayAndClock } from '../ui/time';
import { useSortReturnedMutation } from './delivery.api';
import classes from './delivery.module.css';

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

export function ReturnedMail({ mail }: { readonly mail: ReturnedReply }) {
  const { office } = useOffice();
  const may = useMay('send');
  const [shown, setShown] = useState(false);
  return (
    <Row
      when={dayAndClock(office.timeZone, mail.at)}
      end={
        <Act aria-expanded={shown} onClick={() => setShown(!shown)}>
          {shown ? 'Close' : mail.isOpen && may ? 'See to it' : 'Read'}
        </Act>
      }
    >
      <b>{mail.subject || 'no subject'}</b> <Soft>from {mail.sender || 'nobody'}</Soft>
      <br />
      <TakenFor mail={mail} />
      <Collapse expanded={shown} keepMounted={false}>
        {mail.diagnosis && (
          <p>
            <Figure fz="xs">{mail.diagnosis}</Figure>
          </p>
        )}
        <pre className={classes.text}>{mail.excerpt || 'The message has no text.'}</pre>
        {mail.isOpen && may && <Sort mail={mail} />}
      </Collapse>
    </Row>
  );
}

function TakenFor({ mail }: { readonly mail: ReturnedReply }) {
  const { person, campaign } = mail;
  return (
    <Soft>
      {kindWords[mail.kind]}
      {mail.bounce && `, ${bounceWords[mail.bounce]}`}
      {person && (
        <>
          {mail.isOpen && mail.evidence === 'address' ? '; it may be about ' : ': '}
          <Link to={`/contacts/${person.id}`}>
            {displayName({ given: person.givenName, family: person.familyName }, person.address)}
          </Link>
        </>
      )}
      {campaign && (
        <>
          , <Link to={`/results/${campaign.id}`}>{campaign.name}</Link>
        </>
      )}
      {mail.evidence && ` (known by ${evidenceWords[mail.evidence]})`}
    </Soft>
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
  const send = (request: SortReturnedRequest): void =>
    void command({ run: () => sort({ id: mail.id, ...request }).unwrap() });
  if (mail.kind === 'reply')
    return (
      <Button
        variant="default"
        loading={sorting.isLoading}
        onClick={() => send({ kind: 'nothing' })}
      >
        Seen to
      </Button>
    );
  return (
    <>
      <SheetLine label="whose it is">
        <PersonChooser nobody="choose a person" value={person} onChange={setPerson} />
      </SheetLine>
      <Group gap={8}>
        {choices.map(({ label, request }) => (
          <Button
            key={label}
            size="compact-sm"
            variant="default"
            disabled={sorting.isLoading || person === undefined}
            onClick={() => send({ ...request, contact: person })}
          >
            {label}
          </Button>
        ))}
        <Button
          size="compact-sm"
          variant="subtle"
          color="gray"
          disabled={sorting.isLoading}
          onClick={() => send({ kind: 'nothing' })}
        >
          None of these
        </Button>
      </Group>
    </>
  );
}
