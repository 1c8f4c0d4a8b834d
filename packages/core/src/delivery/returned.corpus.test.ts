// Made-up messages in many forms and languages, each with what it must be, and a table of what they were taken for.
import { readReturned, type ReturnedMessage } from './index.js';
import { aside, type Sketch, type Verdict } from './returned.aside.js';

const dead = [
  'Recipient address rejected: User unknown in virtual mailbox table',
  'Recipient address rejected: User unknown in relay recipient table',
  'No such user here',
  'Sorry, no mailbox here by that name.',
  'The email account that you tried to reach does not exist.',
  'Requested action not taken: mailbox not found',
  'This account has been disabled',
  'This user doesn’t have an example.org account',
  'Unrouteable address',
  'fern@example.org is an invalid address',
  'Invalid recipient <fern@example.org>',
  'Addressee unknown',
  'Der Empfänger ist hier unbekannt',
  'Dieses Postfach existiert nicht',
  'Unbekannter Benutzer',
  'Le destinataire n’existe pas',
  'Adresse introuvable',
  'El usuario no existe',
  'Buzón desconocido',
  'Indirizzo inesistente',
  'L’utente non esiste su questo server',
  'Onbekende gebruiker',
  'De ontvanger bestaat niet',
  'Usuário desconhecido',
  'O destinatário não existe',
  'Użytkownik nie istnieje',
  'Adresat nieznany',
  'Mottagaren är okänd',
  'Adressen finns inte',
  'Modtageren findes ikke',
  'Ukjent mottaker',
  'Vastaanottaja on tuntematon',
  'Uživatel neexistuje',
  'The address is no longer in use',
  'Die Adresse ist nicht mehr gültig',
];
const full = [
  'Mailbox is full',
  'mailbox for fern@example.org is over quota',
  'The recipient’s inbox is out of storage space',
  'Quota exceeded (mailbox for user is full)',
  'User has exceeded the storage quota',
  'Not enough space in the mailbox',
  'Das Postfach ist voll',
  'Speicherkontingent überschritten',
  'La boîte du destinataire est pleine',
  'Quota dépassé',
  'El buzón está lleno',
  'Cuota superada',
  'La casella è piena',
  'Het postvak is vol',
  'Caixa de correio cheia',
  'Skrzynka jest pełna',
  'Inkorgen är full',
  'Postkassen er fuld',
  'Postilaatikko on täynnä',
  'Schránka je plná',
  'This mailbox is temporarily disabled',
];
const aboutUs = [
  'Sender verify failed: address unknown',
  'Sender address rejected: Domain not found',
  'Message rejected as spam by content filtering, user unknown to be tricked',
  'Your server 203.5.1.1 is on our block list',
  'Client host [203.0.113.5] blocked, address not found in reverse DNS',
  'The IP address of the sending server is invalid',
  'SPF check failed for this address: no such address may send',
  'Unauthenticated mail is not accepted due to the DMARC policy',
  'Message too large for this mailbox',
  'Relaying denied: recipient unknown to us',
  'Too many connections from your address; no longer accepted',
  'Greylisted, recipient not known long enough',
  'envelope from address invalid',
  'The message was blocked: phishing, address no longer trusted',
  'Mail from unknown address not accepted',
  'Invalid address in From: header',
  'Recipient address rejected: Greylisting in action',
  'Unknown address behind HELO, user unknown',
];

const daemon = 'Mail Delivery System <mailer-daemon@mx.example.net>';
const report = (code: string, diagnosis: string): string =>
  `Reporting-MTA: dns; mx.example.net\r\n\r\nFinal-Recipient: rfc822; fern@example.org\r\nAction: failed\r\nStatus: ${code}\r\nDiagnostic-Code: smtp; ${diagnosis}\r\n`;
const ourFooter =
  'You get this because you signed up.\nIs this address no longer yours? Tell us.\nUnknown user? The mailbox does not exist? Write to us.';

/** How servers dress a reason. */
const dresses: readonly ((reason: string) => Sketch)[] = [
  (reason) => ({
    from: daemon,
    subject: 'Undelivered Mail Returned to Sender',
    text: `This is the mail system at host mx.example.net.\n\nI'm sorry to have to inform you that your message could not be delivered. The headers of it follow.\n\n<fern@example.org>: host mx.example.org[192.0.2.7] said: 550 ${reason} (in reply to RCPT TO command)`,
  }),
  (reason) => ({
    from: 'MAILER-DAEMON@mx.example.net',
    subject: 'failure notice',
    text: `Hi. This is the mail program at mx.example.net.\n\n<fern@example.org>:\n192.0.2.7 failed after I sent the message.\nRemote host said: 554 ${reason}\n\n--- Below this line is a copy of the message.\n\nReturn-Path: <news@example.com>\n${ourFooter}`,
  }),
  (reason) => ({
    from: 'postmaster@example.org',
    subject: 'Returned mail: see transcript for details',
    text: `   ----- The following addresses had permanent fatal errors -----\n<fern@example.org>\n\n   ----- Transcript of session follows -----\n... while talking to mx.example.org.:\n>>> RCPT To:<fern@example.org>\n<<< 550 ${reason}\n550 ${reason}`,
  }),
  (reason) => ({
    from: daemon,
    subject: 'Mail delivery failed',
    text: `A message that you sent could not be delivered to one or more of its recipients.\n\n  fern@example.org\n    SMTP error from remote mail server after RCPT TO:<fern@example.org>:\n    550 5.0.0 ${reason}`,
    headers: { 'x-failed-recipients': 'fern@example.org' },
  }),
  (reason) => ({
    from: daemon,
    subject: 'Delivery Status Notification (Failure)',
    parts: [{ type: 'message/delivery-status', content: report('5.0.0', `550 ${reason}`) }],
  }),
];

const away: readonly [string, Record<string, string>?][] = [
  ['Out of office: News of the week'],
  ['Automatic reply: News of the week'],
  ['Abwesenheitsnotiz: News'],
  ['Automatische Antwort: News'],
  ['Réponse automatique : News'],
  ['Absence du bureau'],
  ['Respuesta automática: News'],
  ['Fuera de la oficina'],
  ['Risposta automatica: News'],
  ['Fuori sede'],
  ['Automatisch antwoord: News'],
  ['Afwezig tot maandag'],
  ['Resposta automática: News'],
  ['Fora do escritório'],
  ['Autoodpowiedź: News'],
  ['Nieobecność'],
  ['Automatiskt svar: News'],
  ['Frånvaro'],
  ['Automatisk svar: News'],
  ['Poissaoloilmoitus'],
  ['Automatická odpověď: News'],
  ['Re: News', { 'auto-submitted': 'auto-replied' }],
  ['Re: News', { precedence: 'auto_reply' }],
];
const challenges = [
  'Please confirm that you are human',
  'Sender confirmation needed',
  'Bitte bestätigen Sie Ihre Nachricht',
  'Confirme que es un humano',
  'Подтвердите, что вы человек',
];
const people: readonly [from: string, subject: string, text: string][] = [
  ['fern@example.org', 'Re: Going on holiday?', 'Yes, we are.'],
  ['fern@example.org', 'AW: Unzustellbar oder nicht?', 'Bei uns kommt alles an.'],
  ['fern@example.org', 'Re: delivery failed', 'My parcel did not arrive: 550 g are missing.'],
  ['bob.bounce@example.org', 'Re: News', 'The user unknown to me in your picture is my uncle.'],
  [
    'fern@example.org',
    'Re: Absence makes the heart grow fonder',
    'Mailbox is full of your letters!',
  ],
  ['bouncehouse@example.org', 'Re: Your booking', 'This address no longer exists on our map.'],
];
const waits = [
  'delayed',
  'has not yet been delivered',
  'will be retried',
  'verzögert',
  'retardé',
  'retrasado',
  'vertraagd',
  'opóźniona',
  'försenad',
  'forsinket',
];

const corpus: readonly (readonly [Verdict, Sketch])[] = [
  ...dresses.flatMap((dress) => [
    ...dead.map((reason) => ['hard', dress(reason)] as const),
    ...full.map((reason) => ['soft', dress(reason)] as const),
    ...aboutUs.map((reason) => ['policy', dress(reason)] as const),
    ...aboutUs.map((reason) => ['policy', dress(`5.1.1 ${reason}`)] as const),
  ]),
  ...away.map(
    ([subject, headers]) =>
      [
        'auto-reply',
        {
          from: 'fern@example.org',
          subject,
          text: 'Back on Monday.',
          headers: { 'in-reply-to': '<messageAAAABBBBCCCC@example.com>', ...headers },
        },
      ] as const,
  ),
  ...challenges.map(
    (subject) =>
      [
        'challenge',
        {
          from: 'fern@example.org',
          subject,
          text: 'Click here.',
          headers: { 'in-reply-to': '<messageAAAABBBBCCCC@example.com>' },
        },
      ] as const,
  ),
  ...people.map(
    ([from, subject, text]) =>
      [
        'reply',
        { from, subject, text, headers: { 'in-reply-to': '<messageAAAABBBBCCCC@example.com>' } },
      ] as const,
  ),
  ...waits.map(
    (word) =>
      ['delay', { from: daemon, subject: `Message ${word}`, text: '450 try later' }] as const,
  ),
  // Words and numbers that are no quoted reply: never sure, so a hand decides.
  ...[
    'This address is no longer in use. Call 555 1234.',
    'I am in room 550 now.\nThis mailbox is no longer in use.',
  ].flatMap((text) => [
    ['unsure', { from: 'fern@example.org', envelopeFrom: '', subject: 'News', text }] as const,
    ['unsure', { from: daemon, subject: 'News', text }] as const,
  ]),
  [
    'unread',
    {
      from: 'shop@example.org',
      subject: 'Delivery failed: nobody was home',
      text: 'The address does not exist. 550 5.1.1',
    },
  ],
  ['unread', { from: daemon, subject: 'hello', text: 'have a nice day' }],
];

/** `unsure`: a hard bounce by loose words, which waits for a hand. */
function judge({ headers = {}, ...sketch }: Sketch): string {
  const message: ReturnedMessage = {
    envelopeTo: [],
    from: '',
    to: [],
    subject: '',
    text: '',
    parts: [],
    ...sketch,
    headers: new Map(Object.entries(headers)),
  };
  const letter = { campaign: 3, contact: 7, link: 0 } as NonNullable<
    ReturnType<Parameters<typeof readReturned>[1]>
  >;
  const { kind, bounce, isLoose } = readReturned(message, (purpose, text) =>
    text === `${purpose}AAAABBBBCCCC` ? letter : undefined,
  );
  return bounce === 'hard' && isLoose ? 'unsure' : (bounce ?? kind);
}

it.each([
  ['written with the rules', corpus],
  ['written without a look at them', aside],
])(
  'takes at least 95 of 100 %s for what they are, and none that is dangerously wrong',
  (which, messages) => {
    const table = new Map<string, number>();
    const wrong: string[] = [];
    const dangerous: string[] = [];
    for (const [expected, sketch] of messages) {
      const verdict = judge(sketch);
      const cell = `${expected.padEnd(10)} → ${verdict}`;
      table.set(cell, (table.get(cell) ?? 0) + 1);
      const shown = `${cell}: ${sketch.subject ?? ''} | ${(sketch.text ?? '').split('\n').at(-1) ?? ''}${sketch.parts?.[0]?.content.split('\n').at(-2) ?? ''}`;
      if (verdict !== expected) wrong.push(shown);
      if (
        (verdict === 'hard' && expected !== 'hard') ||
        (expected === 'hard' && (verdict === 'reply' || verdict === 'auto-reply'))
      )
        dangerous.push(shown);
    }
    process.stdout.write(
      `Returned mail ${which}, ${messages.length} messages, what they are → what they were taken for\n${[...table].map(([cell, times]) => `  ${cell} ${times}`).join('\n')}\n${wrong.map((one) => `  wrong: ${one}\n`).join('')}`,
    );
    expect(dangerous).toEqual([]);
    expect(wrong.length).toBeLessThanOrEqual(messages.length * 0.05);
  },
);
