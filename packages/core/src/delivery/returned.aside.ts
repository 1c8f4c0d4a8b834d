// Messages written without a look at the rules, in the forms of many kinds of servers, gateways, forwarders and people.
// Rules have been mended by them since: how well unseen mail is judged, only messages written anew can say.
import type { ReturnedMessage } from './returned.js';

export type Verdict =
  | 'hard'
  | 'unsure'
  | 'soft'
  | 'policy'
  | 'other'
  | 'delay'
  | 'receipt'
  | 'complaint'
  | 'leave'
  | 'auto-reply'
  | 'challenge'
  | 'reply'
  | 'unread';
export type Sketch = Partial<Omit<ReturnedMessage, 'headers'>> & {
  readonly headers?: Readonly<Record<string, string>>;
};

const daemon = 'MAILER-DAEMON@relay.example.net';
const answers = { 'in-reply-to': '<messageAAAABBBBCCCC@example.com>' };
const status = (...lines: readonly string[]): Sketch['parts'] => [
  {
    type: 'message/delivery-status',
    content: `Reporting-MTA: dns; relay.example.net\r\nArrival-Date: Mon, 2 Mar 2026 09:00:00 +0000\r\n\r\n${lines.join('\r\n')}\r\n`,
  },
];
const by = (
  verdict: Verdict,
  from: string,
  subject: string,
  text: string,
  more: Sketch = {},
): readonly [Verdict, Sketch] => [verdict, { from, subject, text, ...more }];

export const aside: readonly (readonly [Verdict, Sketch])[] = [
  // Dead, by the book and otherwise.
  by('hard', daemon, 'Undelivered Mail Returned to Sender', 'see below', {
    parts: status(
      'Final-Recipient: rfc822; moss@example.org',
      'Original-Recipient: rfc822;moss@example.org',
      'Action: failed',
      'Status: 5.1.1',
      'Remote-MTA: dns; mx.example.org',
      'Diagnostic-Code: smtp; 550 5.1.1 <moss@example.org>: Recipient address rejected: User unknown in local recipient table',
    ),
  }),
  by('hard', daemon, 'Delivery Status Notification (Failure)', '', {
    parts: status(
      'Final-Recipient: rfc822; moss@example.org',
      'Action: failed',
      'Status: 5.1.1',
      "Diagnostic-Code: smtp; 550-5.1.1 The email account that you tried to reach does not exist. Please try 550-5.1.1 double-checking the recipient's email address for typos",
    ),
  }),
  by('hard', daemon, 'Undeliverable: News of the week', '', {
    parts: status(
      'Final-Recipient: rfc822;moss@example.org',
      'Action: failed',
      'Status: 5.1.10',
      'Diagnostic-Code: smtp;550 5.1.10 RESOLVER.ADR.RecipientNotFound; Recipient moss@example.org not found by SMTP address lookup',
    ),
  }),
  by('hard', daemon, 'Undeliverable: News', '', {
    parts: status(
      'Final-Recipient: rfc822;moss@example.org',
      'Action: failed',
      'Status: 5.4.1',
      'Diagnostic-Code: smtp;550 5.4.1 Recipient address rejected: Access denied. For more information see the directory of this host',
    ),
  }),
  by(
    'hard',
    daemon,
    'failure notice',
    'Hi. This is the deliver program at relay.example.net.\nI’m afraid I wasn’t able to deliver your message to the following addresses.\nThis is a permanent error; I’ve given up. Sorry it didn’t work out.\n\n<moss@example.org>:\n192.0.2.14 does not like recipient.\nRemote host said: 550 5.1.1 <moss@example.org>... User unknown\nGiving up on 192.0.2.14.\n\n--- Below this line is a copy of the message.\n\nReceived: (qm 12345 invoked by uid 0)\nSubject: spam and viruses',
  ),
  by(
    'hard',
    daemon,
    'failure notice',
    'Sorry, I wasn’t able to deliver.\n\n<moss@example.org>:\nSorry, no mailbox here by that name. (#5.1.1)\n\n--- Below this line is a copy of the message.\n\nReturn-Path: <x@example.com>',
  ),
  by(
    'hard',
    daemon,
    'failure notice',
    '<moss@example.org>:\nvdelivermail: this domain is not here. Sorry, no mailbox here by that name. (#5.7.17)\n--- Below this line is a copy of the message.',
  ),
  by(
    'hard',
    'postmaster@example.org',
    'Returned mail: User unknown',
    'The original message was received at Mon, 2 Mar 2026 09:00:00 GMT\nfrom relay.example.net [192.0.2.3]\n\n   ----- The following addresses had permanent fatal errors -----\n<moss@example.org>\n    (reason: 550 5.1.1 <moss@example.org>... User unknown)\n\n   ----- Transcript of session follows -----\n... while talking to mx.example.org.:\n>>> DATA\n<<< 550 5.1.1 <moss@example.org>... User unknown\n550 5.1.1 <moss@example.org>... User unknown\n<<< 503 5.0.0 Need RCPT (recipient)',
  ),
  by(
    'hard',
    daemon,
    'Mail delivery failed: returning message to sender',
    'This message was created automatically by mail delivery software.\n\nA message that you sent could not be delivered to one or more of its\nrecipients. This is a permanent error. The following address(es) failed:\n\n  moss@example.org\n    host mx.example.org [192.0.2.8]\n    SMTP error from remote mail server after RCPT TO:<moss@example.org>:\n    550 No such recipient here',
    { headers: { 'x-failed-recipients': 'moss@example.org' } },
  ),
  by(
    'hard',
    daemon,
    'Mail delivery failed: returning message to sender',
    'A message that you sent could not be delivered to one or more of its\nrecipients. This is a permanent error. The following address(es) failed:\n\n  moss@example.org\n    Unrouteable address',
    { headers: { 'x-failed-recipients': 'moss@example.org' } },
  ),
  by(
    'hard',
    daemon,
    'Mail delivery failed',
    '  moss@example.org\n    SMTP error from remote mail server after RCPT TO:<moss@example.org>:\n    host mx.example.org [192.0.2.8]: 550-5.1.1 moss@example.org:\n    550 Recipient address rejected: undeliverable address: unknown user: "moss"',
    { headers: { 'x-failed-recipients': 'moss@example.org' } },
  ),
  by(
    'hard',
    'Postmaster <postmaster@example.org>',
    'Undeliverable: News',
    'Your message did not reach some or all of the intended recipients.\n\n      Subject: News\n      Sent: 02/03/2026 09:00\n\nThe following recipient(s) cannot be reached:\n\n      moss@example.org on 02/03/2026 09:01\n            The e-mail account does not exist at the organization this message was sent to.  Check the e-mail address, or contact the recipient directly to find out the correct address.\n            <mx.example.org #5.1.1 smtp;550 5.1.1 unknown user>',
  ),
  by(
    'hard',
    'postmaster@example.org',
    'Nicht zustellbar: Rundbrief',
    'Fehler bei der Nachrichtenzustellung an folgende Empfänger oder Gruppen:\n\nmoss@example.org\nDie eingegebene E-Mail-Adresse konnte nicht gefunden werden. Überprüfen Sie die E-Mail-Adresse des Empfängers.\n\nDiagnoseinformationen für Administratoren:\nmoss@example.org\n#550 5.1.1 RESOLVER.ADR.RecipNotFound; not found ##',
  ),
  by(
    'hard',
    'postmaster@example.org',
    'DELIVERY FAILURE: User moss not listed in Directory',
    'Your message\n\n  Subject: News\n\nwas not delivered to:\n\n  moss@example.org\n\nbecause:\n\n  550 User moss (moss@example.org) not listed in the public name book',
  ),
  by(
    'hard',
    daemon,
    'Message status - undeliverable',
    'The message that you sent was undeliverable to the following:\n\tmoss (user not found) 550 5.1.1',
  ),
  by(
    'hard',
    daemon,
    'Returned mail: Host unknown',
    '   ----- The following addresses had permanent fatal errors -----\n<moss@nowhere.example>\n    (reason: 550 Host unknown)\n\n   ----- Transcript of session follows -----\n550 5.1.2 <moss@nowhere.example>... Host unknown (Name server: nowhere.example: host not found)',
  ),
  by(
    'hard',
    daemon,
    'Undelivered Mail Returned to Sender',
    '<moss@nowhere.example>: Host or domain name not found. Name service error for name=nowhere.example type=A: Host not found',
    {
      parts: status(
        'Final-Recipient: rfc822; moss@nowhere.example',
        'Action: failed',
        'Status: 5.4.4',
        'Diagnostic-Code: X-MTA; Host or domain name not found. Name service error for name=nowhere.example type=A: Host not found',
      ),
    },
  ),
  by(
    'hard',
    daemon,
    'Delivery Failure',
    'Could not deliver message to the following recipient(s):\n\nFailed Recipient: moss@example.org\nReason: Remote host said: 550 5.1.1 User Unknown\n\n   -- The header and top 20 lines of the message follows --\n\nReceived: from office',
  ),
  by(
    'hard',
    daemon,
    'Mail System Error - Returned Mail',
    'This Message was undeliverable due to the following reason:\n\nThe user(s) account is disabled.\n\n<moss@example.org>\n550 5.2.1 account disabled\n\nPlease reply to <postmaster@example.org> if you feel this message to be in error.',
  ),
  by(
    'hard',
    daemon,
    'Mail System Error - Returned Mail',
    'This Message was undeliverable due to the following reason:\n\nEach of the following recipients was rejected by a remote mail server.\nThe reasons given by the server are included to help you determine why each recipient was rejected.\n\n    Recipient: <moss@example.org>\n    Reason:    5.1.1 unknown or illegal alias: moss@example.org\n    550 5.1.1 unknown or illegal alias: moss@example.org',
  ),
  by(
    'hard',
    daemon,
    'Undelivered mail',
    '<moss@example.org>: host mx.example.org[192.0.2.9] said: 554 delivery error: dd This user doesn’t have an account here (moss@example.org) [0] - mta1 (in reply to end of DATA command)',
  ),
  by(
    'hard',
    daemon,
    'Undelivered mail',
    '<moss@example.org>: host mx.example.org[192.0.2.9] said: 550 Requested action not taken: mailbox unavailable (in reply to RCPT TO command): no such mailbox',
  ),
  by(
    'hard',
    daemon,
    'Undelivered Mail Returned to Sender',
    '<moss@example.org>: host mx said: 550 5.1.6 Recipient no longer on server: moss@example.org (in reply to RCPT TO command)',
  ),
  by(
    'hard',
    daemon,
    'Undelivered Mail Returned to Sender',
    '<moss@example.org>: 550 5.1.1 <moss@example.org>: Email address could not be found, or was misspelled (G8)',
  ),
  by(
    'hard',
    daemon,
    'Undelivered Mail Returned to Sender',
    '<moss@example.org>: host mx said: 550 #5.1.0 Address rejected moss@example.org: no such address (in reply to RCPT TO command)',
  ),
  by(
    'hard',
    daemon,
    'Undelivered Mail Returned to Sender',
    '<moss@example.org>: host mx said: 511 5.1.1 unknown address or alias: moss@example.org',
  ),
  by(
    'hard',
    daemon,
    'Undelivered Mail Returned to Sender',
    '<moss@example.org>: host mx said: 553 5.3.0 <moss@example.org>... Unknown E-Mail Address',
  ),
  by(
    'hard',
    daemon,
    'Undelivered Mail Returned to Sender',
    "<moss@example.org>: host mx said: 550 Unknown address error 550-'5.1.0 - Unknown address error' (delivery attempts: 0)",
  ),
  by(
    'hard',
    daemon,
    'Échec de la remise',
    '<moss@example.org> : l’hôte mx a répondu : 550 5.1.1 Adresse d’au moins un destinataire invalide. (en réponse à RCPT TO)',
  ),
  by(
    'hard',
    daemon,
    'Notificación de entrega fallida',
    'No se pudo entregar a: moss@example.org\n550 5.1.1 La cuenta de correo no existe',
  ),
  by('hard', daemon, 'Mancato recapito', 'moss@example.org\n550 5.1.1 Utente non trovato'),
  by('hard', daemon, 'Onbestelbaar', 'moss@example.org: 550 5.1.1 Geen postvak met deze naam'),
  by(
    'hard',
    daemon,
    'Niedostarczona wiadomość',
    '<moss@example.org>: 550 5.1.1 Nie ma takiego użytkownika',
  ),
  by(
    'hard',
    daemon,
    'Не удалось доставить',
    '<moss@example.org>: 550 5.1.1 Пользователь не найден',
  ),
  by('hard', daemon, 'Teslim edilemedi', '<moss@example.org>: 550 5.1.1 Kullanıcı bulunamadı'),
  by('hard', daemon, '配信できませんでした', '<moss@example.org>: 550 5.1.1 宛先不明'),
  by(
    'hard',
    daemon,
    'Undeliverable message',
    '    <moss@example.org>\n\n550-5.1.1 The mail account\n550 5.1.1 is closed for good',
  ),
  by(
    'hard',
    daemon,
    'Undeliverable',
    'RCPT TO:<moss@example.org>\n<- 550 moss@example.org... No such user\nQUIT',
    {},
  ),
  by(
    'hard',
    daemon,
    'Undeliverable',
    '<moss@example.org>: host mx said: 550 5.2.1 The email account that you tried to reach is inactive. (in reply to RCPT TO command)',
  ),
  by(
    'hard',
    daemon,
    'Undeliverable',
    '<moss@example.org>: host mx said: 550 relay not permitted for the unknown recipient: this user has left the company and the mailbox no longer exists'.replace(
      'relay not permitted for the unknown recipient: ',
      '',
    ),
  ),
  // Full, or for now.
  by(
    'soft',
    daemon,
    'Undelivered Mail Returned to Sender',
    '<moss@example.org>: host mx said: 552 5.2.2 <moss@example.org>: user is over quota (in reply to RCPT TO command)',
  ),
  by('soft', daemon, 'Undelivered Mail', '', {
    parts: status(
      'Final-Recipient: rfc822; moss@example.org',
      'Action: failed',
      'Status: 5.2.2',
      'Diagnostic-Code: smtp; 552-5.2.2 The email account that you tried to reach is over quota.',
    ),
  }),
  by('soft', daemon, 'Undeliverable: News', '', {
    parts: status(
      'Final-Recipient: rfc822;moss@example.org',
      'Action: failed',
      'Status: 5.2.2',
      'Diagnostic-Code: smtp;554 5.2.2 mailbox full; STOREDRV.Deliver.Exception: QuotaExceededException',
    ),
  }),
  by(
    'soft',
    daemon,
    'Mail delivery failed: returning message to sender',
    '  moss@example.org\n    mailbox is full: retry timeout exceeded',
    { headers: { 'x-failed-recipients': 'moss@example.org' } },
  ),
  by(
    'soft',
    daemon,
    'Mail delivery failed: returning message to sender',
    '  moss@example.org\n    retry timeout exceeded',
    { headers: { 'x-failed-recipients': 'moss@example.org' } },
  ),
  by(
    'soft',
    daemon,
    'failure notice',
    '<moss@example.org>:\nThe users mailfolder is over the allowed quota (size). (#5.2.2)\n--- Below this line is a copy of the message.',
  ),
  by(
    'soft',
    daemon,
    'Undelivered',
    '<moss@example.org>: 550 5.1.1 mailbox quota exceeded for moss',
  ),
  by(
    'soft',
    daemon,
    'Undelivered',
    '<moss@example.org>: connect to mx.example.org[192.0.2.9]:25: Connection timed out',
    {
      parts: status(
        'Final-Recipient: rfc822; moss@example.org',
        'Action: failed',
        'Status: 4.4.1',
        'Diagnostic-Code: X-MTA; connect to mx.example.org[192.0.2.9]:25: Connection timed out',
      ),
    },
  ),
  by(
    'soft',
    daemon,
    'Unzustellbar',
    'moss@example.org\n552 Das Postfach des Empfängers hat sein Limit erreicht und ist voll',
  ),
  by(
    'soft',
    daemon,
    'Mail System Error - Returned Mail',
    'The user’s email inbox exceeds its storage limit.\n\n<moss@example.org>\n552 mailbox over limit',
  ),
  by('soft', daemon, 'Non remis', '<moss@example.org>: 552 5.2.2 Boîte aux lettres pleine'),
  by(
    'soft',
    daemon,
    'Undelivered',
    '<moss@example.org>: 452 4.2.2 The recipient’s mailbox is full and can’t accept messages now',
  ),
  by(
    'soft',
    daemon,
    'Returned mail',
    '<moss@example.org>: 554 5.3.4 Insufficient disk space in the mailbox',
  ),
  by('soft', daemon, 'Returned mail', '<moss@example.org>: 550 Mailbox has exceeded the limit'),
  // About the sender or the message: never about the address.
  by(
    'policy',
    daemon,
    'Undelivered',
    '<moss@example.org>: host mx said: 550 5.7.1 Message rejected due to local policy: the unknown user list is spam bait',
  ),
  by(
    'policy',
    daemon,
    'Undelivered',
    '<moss@example.org>: host mx said: 554 5.7.1 Service unavailable; Client host [203.0.113.5] blocked using zen.dnsbl.example; see https://dnsbl.example/query',
  ),
  by(
    'policy',
    daemon,
    'Undelivered',
    '<moss@example.org>: 550 5.7.26 This mail has been blocked because the sender is unauthenticated. Authentication results: DKIM = did not pass, SPF did not pass',
  ),
  by('policy', daemon, 'Undelivered', '', {
    parts: status(
      'Final-Recipient: rfc822; moss@example.org',
      'Action: failed',
      'Status: 5.1.1',
      'Diagnostic-Code: smtp; 550 5.1.1 Sender address verification failed: mailbox unknown',
    ),
  }),
  by('policy', daemon, 'Undelivered', '', {
    parts: status(
      'Final-Recipient: rfc822; moss@example.org',
      'Action: failed',
      'Status: 5.7.1',
      'Diagnostic-Code: smtp; 550 5.7.1 Unable to relay for moss@example.org',
    ),
  }),
  by('policy', daemon, 'Undelivered', '', {
    parts: status(
      'Final-Recipient: rfc822; moss@example.org',
      'Action: failed',
      'Status: 5.3.4',
      'Diagnostic-Code: smtp; 552 5.3.4 Message size exceeds fixed limit',
    ),
  }),
  by(
    'policy',
    daemon,
    'Undelivered',
    '<moss@example.org>: 550 5.1.8 Access denied, bad outbound sender',
  ),
  by(
    'policy',
    daemon,
    'Undelivered',
    '<moss@example.org>: 553 5.1.8 <news@example.com>... Domain of sender address news@example.com does not exist',
  ),
  by(
    'policy',
    daemon,
    'Undelivered',
    '<moss@example.org>: 550-Verification failed for <news@example.com>\n550-No such user here\n550 Sender verify failed',
  ),
  by(
    'policy',
    daemon,
    'Undelivered',
    '<moss@example.org>: 554 IP=203.0.113.5 - A problem occurred. Ask your provider: the address does not exist in our allow list',
  ),
  by(
    'policy',
    daemon,
    'Undelivered',
    '<moss@example.org>: 521 5.1.1 203.0.113.5 is refused: no such host in our reverse lookup',
  ),
  by('policy', daemon, 'Undelivered', '<moss@example.org>: 550 High probability of spam'),
  by(
    'policy',
    daemon,
    'Undelivered',
    '<moss@example.org>: 550 5.7.0 Mail contains a link on our URI blocklist',
  ),
  by('policy', daemon, 'Nicht zugestellt', '<moss@example.org>: 554 Nachricht als Spam abgelehnt'),
  by(
    'policy',
    daemon,
    'Nicht zugestellt',
    '<moss@example.org>: 550 5.1.1 Absenderadresse unbekannt',
  ),
  by(
    'policy',
    daemon,
    'Non remis',
    '<moss@example.org>: 550 5.1.1 Adresse de l’expéditeur inconnue',
  ),
  by(
    'policy',
    daemon,
    'Undelivered',
    '<moss@example.org>: 550 5.7.133 RESOLVER.RST.SenderNotAuthenticatedForGroup; authentication required; Delivery restriction check failed because the sender was not authenticated when sending to this group',
  ),
  by(
    'policy',
    daemon,
    'Undelivered',
    '<moss@example.org>: 550 You are not allowed to send to this address; only members may',
  ),
  by('policy', daemon, 'Undelivered', '<moss@example.org>: 554 5.6.0 Corrupt message content'),
  by(
    'policy',
    daemon,
    'Undelivered',
    '<moss@example.org>: 501 5.1.7 Bad sender address syntax; invalid address',
  ),
  by(
    'policy',
    daemon,
    'Undelivered',
    '<moss@example.org>: 554 5.4.14 Hop count exceeded - possible mail loop detected on message',
  ),
  // Refused, but nobody can say why.
  by('other', daemon, 'Undelivered', '<moss@example.org>: 554 Transaction failed'),
  by(
    'other',
    daemon,
    'Undelivered',
    '<moss@example.org>: 550 Administrative prohibition (in reply to RCPT TO command)',
  ),
  by('other', daemon, 'Undelivered', '', {
    parts: status('Final-Recipient: rfc822; moss@example.org', 'Action: failed', 'Status: 5.0.0'),
  }),
  by('other', daemon, 'Undelivered', '<moss@example.org>: 550 5.5.0 Try the telephone'),
  by('other', daemon, 'Undelivered', '<moss@example.org>: 554 5.0.0 Lieferung abgelehnt'),
  // Later.
  by(
    'delay',
    daemon,
    'Warning: could not send message for past 4 hours',
    '    **********************************************\n    **      THIS IS A WARNING MESSAGE ONLY      **\n    **  YOU DO NOT NEED TO RESEND YOUR MESSAGE  **\n    **********************************************\n\n<moss@example.org>... Deferred: Connection refused\nWarning: message still undelivered after 4 hours\nWill keep trying until message is 5 days old',
  ),
  by(
    'delay',
    daemon,
    'Warning: message 1abcde-000000-00 delayed 24 hours',
    'A message that you sent has not yet been delivered to one or more of its recipients.\n  moss@example.org\n    Delay reason: SMTP error from remote mail server: 450 user unknown for now\nNo action is required on your part.',
  ),
  by('delay', daemon, 'Delivery Status Notification (Delay)', '', {
    parts: status(
      'Final-Recipient: rfc822; moss@example.org',
      'Action: delayed',
      'Status: 4.4.1',
      'Will-Retry-Until: Sat, 7 Mar 2026 09:00:00 +0000',
    ),
  }),
  by(
    'delay',
    daemon,
    'Delivery incomplete',
    'There was a temporary problem delivering your message to moss@example.org. The server will retry for 46 more hours. You’ll be notified if the delivery fails permanently.',
  ),
  by(
    'delay',
    daemon,
    'Zustellung verzögert',
    'Die Zustellung an moss@example.org hat sich verzögert. Es wird weiter versucht.',
  ),
  by('receipt', daemon, 'Successful Mail Delivery Report', '', {
    parts: status(
      'Final-Recipient: rfc822; moss@example.org',
      'Action: delivered',
      'Status: 2.0.0',
    ),
  }),
  by('receipt', daemon, 'Relayed: News', '', {
    parts: status('Final-Recipient: rfc822; moss@example.org', 'Action: relayed', 'Status: 2.0.0'),
  }),
  by(
    'complaint',
    'feedback@isp.example',
    'complaint about message from 203.0.113.5',
    'This is an abuse report.',
    {
      parts: [
        {
          type: 'message/feedback-report',
          content:
            'Feedback-Type: abuse\r\nUser-Agent: Loop/1\r\nVersion: 1\r\nOriginal-Rcpt-To: moss@example.org\r\n',
        },
      ],
    },
  ),
  // Automatic answers.
  by(
    'auto-reply',
    'moss@example.org',
    'Out of Office',
    'I am out until Monday. For delivery problems call 550 5123.',
    { headers: { ...answers, 'auto-submitted': 'auto-replied' } },
  ),
  by(
    'auto-reply',
    'moss@example.org',
    'Automatic reply: News of the week',
    'I no longer work for this company. This address is no longer in use. Please write to fern@example.org.',
    { envelopeFrom: '', headers: { 'auto-submitted': 'auto-generated', ...answers } },
  ),
  by(
    'auto-reply',
    'moss@example.org',
    'Thank you for your message',
    'We have received your request and will answer within two days. Ticket 4711.',
    { headers: { ...answers, 'auto-submitted': 'auto-replied' } },
  ),
  by('auto-reply', 'moss@example.org', 'Abwesend bis 3. April', 'Ich bin nicht da.', {
    headers: answers,
  }),
  by('auto-reply', 'moss@example.org', 'Ich bin im Urlaub', 'Bis bald.', { headers: answers }),
  by('auto-reply', 'moss@example.org', 'I am away until the 5th', 'Back then.', {
    headers: { ...answers, 'x-auto-response-suppress': 'All', precedence: 'bulk' },
  }),
  by('auto-reply', 'moss@example.org', 'Отсутствую на рабочем месте', 'Вернусь в понедельник.', {
    headers: answers,
  }),
  by('auto-reply', 'moss@example.org', 'Автоматический ответ: News', '', { headers: answers }),
  by('auto-reply', 'moss@example.org', 'Otomatik Yanıt: News', '', { headers: answers }),
  by('auto-reply', 'moss@example.org', '自動返信: News', '', { headers: answers }),
  by('auto-reply', 'moss@example.org', 'Automatikus válasz: News', '', { headers: answers }),
  by('auto-reply', 'moss@example.org', 'Réponse automatique: News', 'Je suis absente.', {
    envelopeFrom: '',
    headers: answers,
  }),
  by('auto-reply', 'moss@example.org', 'Maternity leave', 'I am on maternity leave.', {
    headers: { ...answers, precedence: 'auto_reply' },
  }),
  by('auto-reply', 'moss@example.org', 'OOO: back on Monday', 'Gone fishing.', {
    headers: answers,
  }),
  // A question whether a human wrote.
  by(
    'challenge',
    'moss@example.org',
    'Your message to moss@example.org awaits confirmation',
    'Click here to prove that you are human.',
    { headers: answers },
  ),
  by(
    'challenge',
    'moss@example.org',
    'Please verify your message to me',
    'I use a filter. To deliver your message, click the link.',
    { headers: { 'auto-submitted': 'auto-replied', ...answers } },
  ),
  by(
    'challenge',
    'moss@example.org',
    '[Confirm] News of the week',
    'Please reply to this message to confirm that you are a person and not a machine.',
    { headers: { ...answers, precedence: 'bulk' } },
  ),
  by(
    'challenge',
    'guard@example.org',
    'Sender verification required',
    'moss@example.org does not know you yet. Verify yourself once.',
    { headers: answers },
  ),
  by(
    'challenge',
    'moss@example.org',
    'Bitte bestätigen Sie Ihre Nachricht',
    'Bestätigen Sie, dass Sie ein Mensch sind.',
    { headers: answers },
  ),
  // People.
  by('reply', 'moss@example.org', 'Re: News of the week', 'Thanks!\n\n> User unknown? Tell us.', {
    headers: answers,
  }),
  by(
    'reply',
    'moss@example.org',
    'Re: News',
    'My old mailbox is full, write to fern@example.org from now on.',
    { headers: answers },
  ),
  by(
    'reply',
    'moss@example.org',
    'AW: Rundbrief',
    'Diese Adresse existiert nicht mehr lange, ich ziehe um.',
    { headers: answers },
  ),
  by(
    'reply',
    'moss@example.org',
    'RE: [EXTERNAL] News',
    'Please take Bob off: his mailbox no longer exists, he left us. 550 people work here.',
    { headers: answers },
  ),
  by('reply', 'moss@example.org', 'Fwd: News', 'Have a look at this.', { headers: answers }),
  by(
    'reply',
    'moss@example.org',
    'your offer',
    'I could not be delivered of this thought: is the ticket still to be had?',
    { headers: answers },
  ),
  by(
    'reply',
    'jane.postmaster@example.org',
    'Re: News',
    'I like the address of your new shop. No such user of bikes as me!',
    { headers: answers },
  ),
  by(
    'reply',
    'moss@example.org',
    'Can you confirm your address?',
    'I’d like to send you a book; please confirm your address.',
    { headers: answers },
  ),
  by('reply', 'moss@example.org', 'Undeliverable feelings', 'Poem attached.', { headers: answers }),
  by('reply', 'moss@example.org', 'Vacation plans', 'We are on holiday in May. Do you have room?', {
    headers: answers,
  }),
  by(
    'unread',
    'shop@example.org',
    'Your parcel could not be delivered',
    'Nobody was at home at this address; the recipient is unknown.',
  ),
  by(
    'unread',
    'parcels@example.org',
    'Delivery failure notice 550 5.1.1',
    'The recipient was not found at the address.',
  ),
  by('unread', 'MAILER-DAEMON@relay.example.net', 'Daily statistics', '12 mails handled.'),

  // Gateways, forwarders and appliances.
  by(
    'hard',
    'System Administrator <postmaster@example.org>',
    'Undeliverable:News',
    'Your message\n\n  To:      moss@example.org\n  Subject: News\n  Sent:    Mon, 2 Mar 2026 09:00:00 +0000\n\ndid not reach the following recipient(s):\n\nmoss@example.org on Mon, 2 Mar 2026 09:00:05 +0000\n    The recipient name is not recognized\n\tThe MTS-ID of the original message is: c=xx;a= ;p=office;l=MX1\n    MSEXCH:IMS:Office:MX1:MX1 0 (000C05A6) 550 5.1.1 Unknown Recipient',
  ),
  by(
    'hard',
    daemon,
    'Undelivered Mail Returned to Sender',
    'This is the mail system at host relay.example.net.\n\nI’m sorry to have to inform you that your message could not\nbe delivered to one or more recipients. It’s attached below.\n\n<moss@example.org>: host mx.example.org[192.0.2.20] said: 550 5.1.1\n    <moss@example.org>: Recipient address rejected: User unknown in local\n    recipient table (in reply to RCPT TO command)',
  ),
  by(
    'hard',
    daemon,
    'Undelivered Mail Returned to Sender',
    '<moss@example.org>: host mx.example.org[192.0.2.20] said: 550\n    moss@example.org: mailbox does not exist, or has been removed (in reply to RCPT\n    TO command)',
  ),
  by(
    'hard',
    daemon,
    'Delivery failed',
    'Final recipient: moss@example.org\nAction: failed\nStatus: 5.1.1\nReason: no mailbox of that name',
  ),
  by(
    'hard',
    'mail-daemon@example.org',
    'Mail undeliverable',
    'The mail to <moss@example.org> came back. The reply of the server was:\n\n550 5.1.1 moss@example.org: this mailbox was deleted.\n\nThe spam filter of this office wishes you a nice day.',
  ),
  by(
    'hard',
    daemon,
    'Undeliverable',
    '<moss@example.org>: host mx said: 550 5.1.1 This account has been suspended permanently: mailbox closed',
  ),
  by('hard', daemon, 'Undeliverable', '<moss@example.org>: host mx said: 550 invalid mailbox moss'),
  by(
    'hard',
    daemon,
    'Undeliverable',
    '<moss@example.org>: host mx said: 550 Recipient verify failed: unknown user',
  ),
  by(
    'hard',
    daemon,
    'Undeliverable',
    '<moss@example.org>: host mx said: 550 5.1.1 moss@example.org is not a known user',
  ),
  by(
    'hard',
    daemon,
    'Undeliverable',
    '<moss@example.org>: host mx said: 556 5.1.10 Recipient address has null MX',
  ),
  by(
    'hard',
    daemon,
    'Retour de courrier',
    '<moss@example.org>: l’hôte a répondu 550 5.1.1 Aucun utilisateur de ce nom',
  ),
  by(
    'hard',
    daemon,
    'Unzustellbar',
    'Die folgende Adresse hat den Empfang dauerhaft verweigert:\n\nmoss@example.org\n550 5.1.1 Unbekannter Empfänger',
  ),
  by('hard', daemon, 'Correo devuelto', '<moss@example.org>: 550 No existe esa cuenta de usuario'),
  by(
    'hard',
    daemon,
    'Messaggio non recapitato',
    '<moss@example.org>: 550 5.1.1 Casella di posta inesistente',
  ),
  by(
    'soft',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: host mx said: 552 5.2.2 This message is larger than the current system limit or the recipient’s mailbox is full. Create a shorter message body or remove attachments and try sending it again.',
  ),
  by(
    'soft',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: lost connection with mx.example.org[192.0.2.20] while receiving the initial server greeting',
    {
      parts: status(
        'Final-Recipient: rfc822; moss@example.org',
        'Action: failed',
        'Status: 4.4.2',
        'Diagnostic-Code: X-MTA; lost connection with mx.example.org[192.0.2.20]',
      ),
    },
  ),
  by(
    'soft',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: 554 The recipient’s mailbox has run out of space',
  ),
  by(
    'soft',
    daemon,
    'Unzustellbar',
    '<moss@example.org>: 552 5.2.2 Speicherplatz des Postfachs überschritten',
  ),
  by(
    'soft',
    daemon,
    'Mail error',
    '<moss@example.org>: 421 4.3.2 Service not available, closing transmission channel; gave up after 5 days',
  ),
  by(
    'policy',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: host mx said: 550-5.7.1 [203.0.113.5] Our system has detected that this message is likely unsolicited mail.',
  ),
  by(
    'policy',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: host mx said: 554 5.7.105 Service unavailable (gateway): the recipient filter blocked the message',
  ),
  by(
    'policy',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: host mx said: 550 5.7.509 Access denied, sending domain example.com does not pass DMARC verification and has a policy of reject',
  ),
  by(
    'policy',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: host mx said: 550 JunkMail rejected - relay.example.net [203.0.113.5] is in an RBL',
  ),
  by(
    'policy',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: host mx said: 451 4.7.1 Greylisting in action, please come back later; 550 gave up',
  ),
  by(
    'policy',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: host mx said: 550 Message was refused because it contains an attachment of a forbidden type',
  ),
  by(
    'policy',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: host mx said: 550 5.1.0 <news@example.com> sender rejected: address unknown',
  ),
  by(
    'policy',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: host mx said: 550 This domain is listed; its address is unknown for good mail (reputation)',
  ),
  by(
    'policy',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: host mx said: 550 5.4.6 Routing loop detected',
  ),
  by(
    'policy',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: host mx said: 550 The recipient does not accept mail from you: address not in the allow list',
  ),
  by('other', daemon, 'Undelivered Mail', '<moss@example.org>: host mx said: 550 Action not taken'),
  by(
    'other',
    daemon,
    'Undelivered Mail',
    '<moss@example.org>: host mx said: 553 sorry, that won’t do (#5.5.2)',
  ),
  by('other', daemon, 'Returned to sender', 'We could not deliver this to moss@example.org.'),
  by(
    'delay',
    daemon,
    'Delayed mail (still being retried)',
    'This is the mail system at host relay.example.net.\n\nYour message could not be delivered for 0.2 hours.\nIt will be retried until it is 5.0 days old.\n\n<moss@example.org>: host mx said: 450 4.2.0 Greylisted',
  ),
  by('delay', daemon, 'Avertissement : message retardé', '<moss@example.org>: 451 réessayez'),
  by('receipt', 'moss@example.org', 'Read: News', 'Your message was read.', {
    headers: answers,
    parts: [
      {
        type: 'message/disposition-notification',
        content:
          'Final-Recipient: rfc822;moss@example.org\r\nDisposition: manual-action/MDN-sent-manually; displayed\r\n',
      },
    ],
  }),
  by(
    'receipt',
    'moss@example.org',
    'Not read: News',
    'Your message was deleted without being read.',
    {
      headers: answers,
      parts: [
        {
          type: 'message/disposition-notification',
          content: 'Disposition: automatic-action/MDN-sent-automatically; deleted\r\n',
        },
      ],
    },
  ),
  by('complaint', 'fbl@isp.example', 'FW: News', '', {
    parts: [{ type: 'message/feedback-report', content: 'Feedback-Type: fraud\r\nVersion: 1\r\n' }],
  }),
  by('unread', 'fbl@isp.example', 'FW: News', '', {
    parts: [
      { type: 'message/feedback-report', content: 'Feedback-Type: not-spam\r\nVersion: 1\r\n' },
    ],
  }),
  by('leave', 'moss@example.org', 'leave', '', {
    envelopeTo: ['leave+leaveAAAABBBBCCCC@example.com'],
  }),
  by('auto-reply', 'moss@example.org', 'Moss is out of the office', 'Back soon.', {
    headers: answers,
  }),
  by(
    'auto-reply',
    'helpdesk@example.org',
    '[#4711] We have received your request',
    'An agent will look at it.',
    { headers: { ...answers, 'auto-submitted': 'auto-generated' } },
  ),
  by('auto-reply', 'moss@example.org', 'Je suis absent jusqu’au 4 mai', 'À bientôt.', {
    headers: answers,
  }),
  by('auto-reply', 'moss@example.org', 'Estoy de vacaciones', 'Vuelvo pronto.', {
    headers: answers,
  }),
  by('auto-reply', 'moss@example.org', 'Ik ben niet op kantoor', 'Tot maandag.', {
    headers: answers,
  }),
  by('auto-reply', 'moss@example.org', 'Jag är på semester', 'Åter på måndag.', {
    headers: answers,
  }),
  by('auto-reply', 'moss@example.org', 'Nie ma mnie w biurze', 'Wracam w poniedziałek.', {
    headers: answers,
  }),
  by(
    'auto-reply',
    'moss@example.org',
    'Moss has left the company',
    'This mailbox is no longer read. 550 colleagues say hello.',
    { headers: { ...answers, 'auto-submitted': 'auto-replied' }, envelopeFrom: '' },
  ),
  by(
    'auto-reply',
    'moss@example.org',
    'Mailbox no longer in use',
    'This address is no longer in use. Write to office@example.org.',
    { headers: { ...answers, 'x-autoreply': 'yes' }, envelopeFrom: '' },
  ),
  by('auto-reply', 'moss@example.org', 'Auto: News', 'Thanks, got it.', {
    headers: { ...answers, precedence: 'junk' },
  }),
  by(
    'challenge',
    'moss@example.org',
    'Confirm your message: News',
    'This inbox is protected. Confirm once to be let in.',
    { headers: answers },
  ),
  by('challenge', 'moss@example.org', 'Action required: prove you are human', 'One click.', {
    headers: { ...answers, 'auto-submitted': 'auto-replied' },
  }),
  by(
    'challenge',
    'moss@example.org',
    'Merci de confirmer votre message',
    'Cliquez pour prouver que vous êtes une personne.',
    { headers: answers },
  ),
  by('reply', 'moss@example.org', 'Re: Out of office next week?', 'No, I am here.', {
    headers: answers,
  }),
  by(
    'reply',
    'moss@example.org',
    'Odp: News',
    'Dziękuję! Mój adres nie istnieje w waszej książce.',
    { headers: answers },
  ),
  by('reply', 'moss@example.org', 'Antwort: Rundbrief', 'Danke, das Postfach von Bob ist voll.', {
    headers: answers,
  }),
  by('reply', 'moss@example.org', 'TR: News', 'Merci, adresse inconnue pour moi.', {
    headers: answers,
  }),
  by('reply', 'moss@example.org', 'Question', 'Is the sender verification of your shop working?', {
    headers: answers,
  }),
  by(
    'reply',
    'moss@example.org',
    'RE: News',
    'Stop sending me this spam, I never signed up: 550 times now.',
    { headers: answers },
  ),
  by(
    'reply',
    'Postmaster of the bike club <club@example.org>',
    'Re: News',
    'Hello, no such address as yours in our list. Thanks!',
    { headers: answers },
  ),
  by(
    'unread',
    'list@example.org',
    'Your subscription',
    'You are not a member of this list: address unknown.',
  ),
  by('unread', 'quarantine@example.org', 'Quarantine digest', '3 messages wait: user unknown.'),
];
