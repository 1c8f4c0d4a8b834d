// What the outside sends back: notices of dead mailboxes, complaints, replies and automatic answers.

export interface Answer {
  /** Envelope recipient: where the letter's bounces or replies go. */
  readonly to: string;
  readonly raw: string;
}

const lines = (...all: string[]): string => all.join('\r\n');
const date = (): string => new Date().toUTCString().replace('GMT', '+0000');

export interface Answered {
  /** The reader. */
  readonly reader: string;
  /** Envelope sender of the letter. */
  readonly bounceTo: string;
  readonly subject: string;
  readonly messageId: string;
  readonly headers: string;
}

/** A notice by the book (RFC 3464). */
export const lateNotice = (
  { reader, bounceTo, headers }: Answered,
  status: string,
  words: string,
): Answer => ({
  to: bounceTo,
  raw: lines(
    'From: Mail Delivery System <MAILER-DAEMON@mx.lanternpost.test>',
    `To: ${bounceTo}`,
    `Date: ${date()}`,
    'Subject: Undelivered letter returned to sender',
    'Auto-Submitted: auto-replied',
    'MIME-Version: 1.0',
    'Content-Type: multipart/report; report-type=delivery-status; boundary="notice"',
    '',
    '--notice',
    'Content-Type: text/plain; charset=utf-8',
    '',
    `The letter to ${reader} could not be put into its mailbox.`,
    '',
    '--notice',
    'Content-Type: message/delivery-status',
    '',
    'Reporting-MTA: dns; mx.lanternpost.test',
    '',
    `Final-Recipient: rfc822; ${reader}`,
    'Action: failed',
    `Status: ${status}`,
    `Diagnostic-Code: smtp; ${words}`,
    '',
    '--notice',
    'Content-Type: text/rfc822-headers',
    '',
    headers,
    '',
    '--notice--',
    '',
  ),
});

/** A notice in a server's own words, as many still are. */
export const plainNotice = ({ reader, bounceTo }: Answered): Answer => ({
  to: bounceTo,
  raw: lines(
    'From: MAILER-DAEMON@mx.harbourmail.test',
    `To: ${bounceTo}`,
    `Date: ${date()}`,
    'Subject: failure notice',
    '',
    'Sorry, this did not work out.',
    '',
    `<${reader}>:`,
    '550 5.1.1 no mailbox here by that name',
    '',
  ),
});

/** A complaint (RFC 5965). */
export const complaint = ({ reader, bounceTo, headers }: Answered): Answer => ({
  to: bounceTo,
  raw: lines(
    'From: complaints@lanternpost.test',
    `To: ${bounceTo}`,
    `Date: ${date()}`,
    'Subject: A reader complained about this letter',
    'MIME-Version: 1.0',
    'Content-Type: multipart/report; report-type=feedback-report; boundary="complaint"',
    '',
    '--complaint',
    'Content-Type: text/plain',
    '',
    'One of our readers marked this letter as unwanted.',
    '',
    '--complaint',
    'Content-Type: message/feedback-report',
    '',
    'Feedback-Type: abuse',
    'User-Agent: lanternpost/1',
    'Version: 1',
    `Original-Rcpt-To: ${reader}`,
    '',
    '--complaint',
    'Content-Type: text/rfc822-headers',
    '',
    headers,
    '',
    '--complaint--',
    '',
  ),
});

const written = (
  { reader, bounceTo, messageId }: Answered,
  subject: string,
  text: string,
  more: readonly string[],
): Answer => ({
  to: bounceTo,
  raw: lines(
    `From: ${reader}`,
    `To: ${bounceTo}`,
    `Date: ${date()}`,
    `Subject: ${subject}`,
    `In-Reply-To: ${messageId}`,
    ...more,
    'Content-Type: text/plain; charset=utf-8',
    '',
    text,
    '',
  ),
});

export const reply = (about: Answered): Answer =>
  written(
    about,
    `Re: ${about.subject}`,
    'How lovely, thank you! Is there room for two more on Saturday?',
    [],
  );
export const away = (about: Answered): Answer =>
  written(
    about,
    `Out of the office: ${about.subject}`,
    'I am away until Monday and read letters then.',
    ['Auto-Submitted: auto-replied', 'Precedence: auto_reply'],
  );
