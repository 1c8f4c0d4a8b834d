// Notices as real servers write them, by the book and not, and what must never be taken for one.
import fc from 'fast-check';
import type { CampaignId } from '../campaigns/index.js';
import type { ContactId } from '../contacts/index.js';
import {
  readReturned,
  type Purpose,
  type Returned,
  type ReturnedMessage,
  type TokenBody,
} from './index.js';

const letter: TokenBody = { campaign: 3 as CampaignId, contact: 7 as ContactId, link: 0 };
/** Tokens of this test are the purpose and a fixed tail. */
const token = (purpose: Purpose): string => `${purpose}AAAABBBBCCCC`;
const verify = (purpose: Purpose, text: string): TokenBody | undefined =>
  text === token(purpose) ? letter : undefined;
const messageId = `<${token('message')}@example.com>`;

interface Sketch extends Partial<Omit<ReturnedMessage, 'headers'>> {
  readonly headers?: Record<string, string>;
}
const message = ({ headers = {}, ...rest }: Sketch): ReturnedMessage => ({
  envelopeTo: [],
  from: '',
  to: [],
  subject: '',
  text: '',
  parts: [],
  ...rest,
  headers: new Map(Object.entries(headers)),
});
const read = (sketch: Sketch): Returned => readReturned(message(sketch), verify);
const status = (content: string): ReturnedMessage['parts'] => [
  { type: 'message/delivery-status', content },
];
const bounceAddress = `bounce+${token('bounce')}@bounces.example.com`;

const dsn = (action: string, code: string, more = ''): string =>
  `Reporting-MTA: dns; mx.example.net\r\n\r\nFinal-Recipient: rfc822; Fern@Example.org\r\nAction: ${action}\r\nStatus: ${code}\r\n${more}`;

describe('notices by the book', () => {
  it.each<[string, string, Partial<Returned>]>([
    [
      'a dead mailbox',
      dsn('failed', '5.1.1', 'Diagnostic-Code: smtp; 550 5.1.1 no such user'),
      {
        kind: 'bounce',
        bounce: 'hard',
        diagnosis: '550 5.1.1 no such user',
        address: 'fern@example.org',
      },
    ],
    ['a full one', dsn('failed', '5.2.2'), { kind: 'bounce', bounce: 'soft' }],
    ['given up after tries', dsn('failed', '4.4.7'), { kind: 'bounce', bounce: 'soft' }],
    ['a policy', dsn('failed', '5.7.1'), { kind: 'bounce', bounce: 'policy' }],
    [
      'no code but plain words',
      dsn('failed', '5.0.0', 'Diagnostic-Code: smtp; 550 user unknown'),
      { kind: 'bounce', bounce: 'hard' },
    ],
    [
      'no code and other words',
      dsn('failed', '5.0.0', 'Diagnostic-Code: smtp; 550 rejected'),
      { kind: 'bounce', bounce: 'other' },
    ],
    ['a delay', dsn('delayed', '4.4.1'), { kind: 'delay', bounce: null }],
    ['a receipt', dsn('delivered', '2.0.0'), { kind: 'receipt' }],
    [
      'folded fields',
      dsn('failed', '5.1.1', 'Diagnostic-Code: smtp; 550\r\n 5.1.1 gone'),
      { kind: 'bounce', diagnosis: '550 5.1.1 gone' },
    ],
    [
      'a code without an action',
      'Reporting-MTA: dns; x\n\nFinal-Recipient: rfc822;a@example.org\nStatus: 5.1.10\n',
      { kind: 'bounce', bounce: 'hard' },
    ],
    ['neither', 'Reporting-MTA: dns; x\n', { kind: 'unread' }],
  ])('%s', (_, content, expected) =>
    expect(
      read({
        envelopeTo: [bounceAddress],
        from: 'Mail Delivery System MAILER-DAEMON@example.net',
        parts: status(content),
      }),
    ).toMatchObject({ ...expected, letter, evidence: 'envelope' }),
  );

  it('is a notice even when it calls itself an automatic reply', () => {
    expect(
      read({ headers: { 'auto-submitted': 'auto-replied' }, parts: status(dsn('failed', '5.1.1')) })
        .kind,
    ).toBe('bounce');
  });
});

describe('notices in somebody’s own words', () => {
  const daemon = 'MAILER-DAEMON@mx.example.net';
  it.each<[string, Sketch, Partial<Returned>]>([
    [
      'with a code',
      {
        from: daemon,
        subject: 'failure notice',
        text: 'Sorry, no luck.\n<fern@example.org>:\n550 5.1.1 unknown\n',
      },
      { kind: 'bounce', bounce: 'hard', address: 'fern@example.org' },
    ],
    [
      'with plain words',
      {
        from: daemon,
        subject: 'Undelivered Mail Returned to Sender',
        text: 'The mailbox fern does not exist here.',
      },
      { kind: 'bounce', bounce: 'hard' },
    ],
    [
      'full',
      { from: daemon, subject: 'Returned mail', text: 'fern: mailbox is full, quota exceeded' },
      { kind: 'bounce', bounce: 'soft' },
    ],
    [
      'in another language',
      {
        from: 'Postmaster postmaster@example.de',
        subject: 'Unzustellbar: Newsletter',
        text: '550 5.1.1 Empfaenger unbekannt',
      },
      { kind: 'bounce', bounce: 'hard' },
    ],
    [
      'only a subject',
      { from: daemon, subject: 'Delivery failure', text: 'see below' },
      { kind: 'bounce', bounce: 'other' },
    ],
    [
      'a warning',
      {
        from: daemon,
        subject: 'Warning: could not send for 4 hours',
        text: 'The message will be retried. 4.4.1 timeout',
      },
      { kind: 'delay' },
    ],
    [
      'failed recipients named',
      {
        from: 'robot@example.net',
        headers: { 'x-failed-recipients': 'fern@example.org' },
        text: 'oops',
      },
      { kind: 'bounce', address: 'fern@example.org' },
    ],
    [
      'a daemon that says nothing',
      { from: daemon, subject: 'hello', text: 'have a nice day' },
      { kind: 'unread' },
    ],
  ])('%s', (_, sketch, expected) => expect(read(sketch)).toMatchObject(expected));

  it('finds the letter in what it quotes', () => {
    expect(
      read({
        from: daemon,
        subject: 'failure notice',
        text: `550 5.1.1\n\n--- original ---\nMessage-ID: ${messageId}\n`,
      }),
    ).toMatchObject({ letter, evidence: 'original' });
    expect(
      read({
        from: daemon,
        subject: 'failure notice',
        text: `550 5.1.1\n<https://letters.example.com/leave/${token('leave')}>`,
      }),
    ).toMatchObject({ letter, evidence: 'original' });
    expect(
      read({
        from: daemon,
        subject: 'failure',
        parts: [
          { type: 'message/rfc822', content: `Subject: x\r\nMessage-ID: ${messageId}\r\n\r\nhi` },
        ],
      }),
    ).toMatchObject({ letter, evidence: 'original' });
  });
  it('calls a mere address a hint', () =>
    expect(
      read({ from: daemon, subject: 'failure notice', text: '<fern@example.org>: 550 5.1.1' }),
    ).toMatchObject({ letter: null, evidence: 'address' }));
});

describe('complaints, replies and the way out', () => {
  const report = (fields: string): ReturnedMessage['parts'] => [
    { type: 'message/feedback-report', content: fields },
    { type: 'message/rfc822', content: `Message-ID: ${messageId}\r\n\r\n` },
  ];
  it.each<[string, Sketch, Partial<Returned>]>([
    [
      'a complaint',
      { parts: report('Feedback-Type: abuse\r\nOriginal-Rcpt-To: fern@example.org\r\n') },
      { kind: 'complaint', letter, evidence: 'original', address: 'fern@example.org' },
    ],
    ['praise', { parts: report('Feedback-Type: not-spam\r\n') }, { kind: 'unread' }],
    [
      'a way out by mail',
      { envelopeTo: [`leave+${token('leave')}@bounces.example.com`], from: 'fern@example.org' },
      { kind: 'leave', letter, evidence: 'envelope' },
    ],
    [
      'a way out with a false token',
      { envelopeTo: ['leave+nonsense@bounces.example.com'], from: 'fern@example.org' },
      { kind: 'unread', letter: null },
    ],
    [
      'a reply',
      {
        from: 'fern@example.org',
        subject: 'Re: News',
        headers: { 'in-reply-to': messageId },
        text: 'How lovely!',
      },
      { kind: 'reply', letter, evidence: 'headers' },
    ],
    [
      'a reply that quotes',
      {
        from: 'fern@example.org',
        subject: 'Re: News',
        text: `> https://letters.example.com/c/${token('click')}`,
      },
      { kind: 'reply', evidence: 'original' },
    ],
    [
      'out of the office, by header',
      {
        from: 'fern@example.org',
        subject: 'Re: News',
        headers: { 'auto-submitted': 'auto-replied', 'in-reply-to': messageId },
      },
      { kind: 'auto-reply', letter },
    ],
    [
      'out of the office, by subject',
      {
        from: 'fern@example.org',
        subject: 'Out of Office: News',
        headers: { references: messageId },
      },
      { kind: 'auto-reply' },
    ],
    [
      'Abwesenheit',
      { from: 'farn@example.org', subject: 'Abwesenheitsnotiz', headers: {} },
      { kind: 'auto-reply' },
    ],
    [
      'sent by a person on purpose',
      {
        from: 'fern@example.org',
        subject: 'Re: News',
        headers: { 'auto-submitted': 'no', 'in-reply-to': messageId },
      },
      { kind: 'reply' },
    ],
    [
      'somebody else’s mail',
      { from: 'shop@example.org', subject: 'Your order', text: 'It has been sent.' },
      { kind: 'unread', letter: null, evidence: null },
    ],
  ])('%s', (_, sketch, expected) => expect(read(sketch)).toMatchObject(expected));

  it('never takes a token for another purpose', () => {
    expect(
      read({
        envelopeTo: [`bounce+${token('leave')}@bounces.example.com`],
        from: 'fern@example.org',
      }),
    ).toMatchObject({ kind: 'unread', letter: null });
    expect(
      read({ headers: { 'in-reply-to': `<${token('bounce')}@example.com>` } }).letter,
    ).toBeNull();
  });
});

it('reads anything without failing, and names no letter without a token', () => {
  const part = fc.record({
    type: fc.constantFrom('message/delivery-status', 'message/feedback-report', 'message/rfc822'),
    content: fc.string({ unit: 'binary' }),
  });
  fc.assert(
    fc.property(
      fc.record({
        from: fc.string(),
        subject: fc.string(),
        text: fc.string({ unit: 'binary' }),
        envelopeTo: fc.array(fc.string()),
        parts: fc.array(part, { maxLength: 3 }),
      }),
      (sketch) => {
        expect(read(sketch).letter).toBeNull();
      },
    ),
  );
});

describe('what must never be taken for a dead address', () => {
  const daemon = 'MAILER-DAEMON@mx.example.net';
  const footer =
    '\n\n--- Below this line is a copy of the message ---\nYou get this because the address is no longer yours? User unknown? 550 5.1.1\n';
  it.each<[string, Sketch, Partial<Returned>]>([
    [
      'an address of a machine read as a code',
      {
        from: daemon,
        subject: 'failure notice',
        text: 'Your server 203.5.1.1 is on our block list',
      },
      { kind: 'bounce', bounce: 'policy' },
    ],
    [
      'another one',
      { from: daemon, subject: 'failure notice', text: '550 host 10.5.1.1.7 refused' },
      { kind: 'bounce', bounce: 'other' },
    ],
    [
      'a sender that could not be verified, beside a dead code',
      {
        from: daemon,
        subject: 'failure notice',
        text: '<fern@example.org>: 550 5.1.1 sender verification failed',
      },
      { bounce: 'policy' },
    ],
    [
      'DMARC beside a dead code',
      { from: daemon, subject: 'failure notice', text: '550 5.1.1 rejected by DMARC policy' },
      { bounce: 'policy' },
    ],
    [
      'spam',
      { from: daemon, subject: 'failure notice', text: '554 5.1.1 looks like spam' },
      { bounce: 'policy' },
    ],
    [
      'relaying',
      { from: daemon, subject: 'failure notice', text: '550 5.1.2 relaying denied' },
      { bounce: 'policy' },
    ],
    [
      'size',
      { from: daemon, subject: 'failure notice', text: '552 5.1.1 message too large' },
      { bounce: 'policy' },
    ],
    [
      'greylisting',
      { from: daemon, subject: 'failure notice', text: '550 5.1.1 you are greylisted' },
      { bounce: 'policy' },
    ],
    [
      'the letter that is quoted',
      { from: daemon, subject: 'failure notice', text: `554 refused as spam${footer}` },
      { bounce: 'policy' },
    ],
    [
      'the letter that is quoted under an unclear word',
      { from: daemon, subject: 'failure notice', text: `554 refused${footer}` },
      { bounce: 'other' },
    ],
    [
      'loose words',
      { from: daemon, subject: 'Undelivered Mail', text: 'The user is unknown to me.' },
      { bounce: 'hard', isLoose: true },
    ],
    [
      'a person whose name is Bounce',
      {
        from: 'Bounce Ferns bo@example.org',
        subject: 'Re: News',
        headers: { 'in-reply-to': messageId },
        text: 'user unknown, ha!',
      },
      { kind: 'reply' },
    ],
    [
      'a shop whose delivery failed',
      {
        from: 'shop@example.org',
        subject: 'Delivery failed: your parcel',
        text: 'The address does not exist.',
      },
      { kind: 'unread', bounce: null },
    ],
    [
      'a reply that says undeliverable',
      {
        from: 'fern@example.org',
        subject: 'Re: Undeliverable',
        headers: { 'in-reply-to': messageId },
        text: '550 5.1.1 is what I got',
      },
      { kind: 'reply' },
    ],
    [
      'an answer by a machine without a sender',
      {
        from: 'fern@example.org',
        envelopeFrom: '',
        subject: 'Gracias por su mensaje',
        headers: { 'auto-submitted': 'auto-replied', 'in-reply-to': messageId },
        text: 'The user is unknown on Fridays.',
      },
      { kind: 'auto-reply' },
    ],
    [
      'a person whose program leaves the sender empty',
      {
        from: 'fern@example.org',
        envelopeFrom: '',
        subject: 'Re: News',
        headers: { 'in-reply-to': messageId },
        text: 'Lovely.',
      },
      { kind: 'reply' },
    ],
  ])('%s', (_, sketch, expected) => expect(read(sketch)).toMatchObject(expected));

  it.each<[string, Sketch]>([
    [
      'a reply quoted by a mailer',
      {
        from: daemon,
        subject: 'failure notice',
        text: '<fern@example.org>:\n550 5.1.1 no such user',
      },
    ],
    [
      'without a sender',
      {
        from: 'mx@example.net',
        envelopeFrom: '',
        subject: 'Mail',
        text: 'fern@example.org: 550-5.1.1 The email account does not exist',
      },
    ],
    [
      'a code in brackets',
      { from: daemon, subject: 'failure notice', text: '550 (#5.1.1) unknown' },
    ],
    ['a line of its own', { from: daemon, subject: 'failure notice', text: 'Status: 5.1.1\n' }],
  ])('but is one, plainly: %s', (_, sketch) =>
    expect(read(sketch)).toMatchObject({ kind: 'bounce', bounce: 'hard', isLoose: false }),
  );
});
