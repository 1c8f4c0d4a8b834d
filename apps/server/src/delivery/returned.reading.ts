// From the bytes of a message to what it says. Runs in a thread of its own (returned.worker.ts): mail comes from
// anybody, and a parser that takes long over it must not hold up the office.
import {
  readReturned,
  type Returned,
  type ReturnedMessage,
  type Verify,
} from '@palabra/core/delivery';
import { convert } from 'html-to-text';
import PostalMime, { type Email } from 'postal-mime';

/** Longer than anything that is looked for; in signs. */
const LIMITS = {
  header: 2000,
  headers: 200,
  address: 320,
  addresses: 50,
  text: 100_000,
  part: 200_000,
  parts: 10,
} as const;

const REPORTS = new Set([
  'message/delivery-status',
  'message/feedback-report',
  'message/disposition-notification',
  'message/rfc822',
  'text/rfc822-headers',
  'message/global-delivery-status',
  'message/global',
  'message/global-headers',
]);

/** Of a message that came by SMTP; nothing is known of one from a mailbox. */
export interface Envelope {
  /** Empty for notices. */
  readonly from?: string;
  readonly to: readonly string[];
}

export interface ReadMessage {
  readonly from: string;
  readonly subject: string;
  readonly text: string;
  readonly read: Returned;
}

/** Fails when the message can't be parsed at all. */
export async function readMessage(
  raw: Uint8Array,
  envelope: Envelope,
  verify: Verify,
): Promise<ReadMessage> {
  const message = asMessage(await PostalMime.parse(raw, { maxHeadersSize: 512 * 1024 }), envelope);
  return {
    from: message.from,
    subject: message.subject,
    text: message.text,
    read: readReturned(message, verify),
  };
}

function asMessage(email: Email, envelope: Envelope): ReturnedMessage {
  const headers = new Map<string, string>();
  for (const { key, value } of email.headers.slice(0, LIMITS.headers)) {
    if (!headers.has(key)) headers.set(key, value.slice(0, LIMITS.header));
  }
  const reports = email.attachments
    .filter(({ mimeType }) => REPORTS.has(mimeType))
    .slice(0, LIMITS.parts);
  return {
    envelopeTo: envelope.to,
    ...(envelope.from === undefined ? {} : { envelopeFrom: envelope.from }),
    from: email.from
      ? `${email.from.name} ${email.from.address ?? ''}`.trim().slice(0, LIMITS.address)
      : '',
    to: (email.to ?? [])
      .slice(0, LIMITS.addresses)
      .flatMap(({ address }) => (address ? [address.slice(0, LIMITS.address)] : [])),
    subject: (email.subject ?? '').slice(0, LIMITS.header),
    headers,
    text: (email.text ?? plainOf(email.html ?? '')).slice(0, LIMITS.text),
    parts: reports.map(({ mimeType, content }) => ({
      type: mimeType.replace('message/global-delivery-status', 'message/delivery-status'),
      content: textOf(content).slice(0, LIMITS.part),
    })),
  };
}

const textOf = (content: ArrayBuffer | Uint8Array | string): string =>
  typeof content === 'string' ? content : new TextDecoder().decode(content);

/** Enough of an HTML message to find words and addresses in it. */
const plainOf = (html: string): string =>
  html === ''
    ? ''
    : convert(html.slice(0, LIMITS.part), { wordwrap: false, limits: { maxDepth: 50 } });
