// One reader's message: the compiled letter filled in, with its headers.
import { randomBytes } from 'node:crypto';
import type { CampaignId } from '@palabra/core/campaigns';
import { envelopeAddress, readerValue, oneLine, type Field } from '@palabra/core/contacts';
import { encodeParts, personalise, type CompiledLetter } from '@palabra/core/letters';
import MailComposer from 'nodemailer/lib/mail-composer';
import MimeNode from 'nodemailer/lib/mime-node';
import { encode, wrap } from 'nodemailer/lib/qp';
import { type ContactRow, valueOf } from '../contacts/index.js';
import type { Keys } from '../platform/keys.js';

export interface Sending {
  readonly campaign: CampaignId;
  readonly compiled: CompiledLetter;
  readonly senderName: string;
  readonly senderAddress: string;
  readonly replyTo: string;
  readonly officeName: string;
  /** In which days are written, as a language tag (BCP 47). */
  readonly language: string;
  readonly publicUrl: string;
  readonly bounceDomain: string | undefined;
}

export interface Mail {
  readonly from: string;
  readonly to: string;
  readonly raw: Buffer;
}

const domainOf = (address: string): string => address.slice(address.lastIndexOf('@') + 1);

const fieldText =
  (contact: ContactRow, fields: ReadonlyMap<string, Field>, language: string) =>
  (key: string): string => {
    const field = fields.get(key);
    return field ? readerValue(field, valueOf(contact, key), language) : '';
  };

/**
 * Quoted-printable (RFC 2045, 6.7) in pieces that may be joined: each ends in a soft line break, which readers don't
 * see. Wrapped a sign shorter than a line may be, so that there is room for the break.
 */
const quoted = (text: string): string =>
  text === '' ? '' : `${wrap(encode(text.replace(/\r\n?|\n/g, '\r\n')), 75)}=\r\n`;

/**
 * Makes the messages of one send: a contact's own copy, with signed links and one-click leaving (RFC 8058, RFC 2369,
 * RFC 2919). What all of them share is encoded once, so that a copy is a join of strings.
 */
export function messagesOf(
  sending: Sending,
  fields: ReadonlyMap<string, Field>,
  keys: Keys,
): (contact: ContactRow, address: string) => Mail {
  // No quoted-printable text holds "=_" (RFC 2045, 6.7), so the boundary stands nowhere else.
  const boundary = `=_${randomBytes(12).toString('hex')}`;
  const senderDomain = domainOf(sending.senderAddress);
  const root = new MimeNode();
  const shared = headers(root, {
    from: { name: sending.senderName, address: sending.senderAddress },
    ...(sending.replyTo ? { 'reply-to': sending.replyTo } : {}),
    'List-Id': { prepared: true, value: `<letters.${senderDomain}>` },
    'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
    Precedence: 'bulk',
    'MIME-Version': '1.0',
    'Content-Type': `multipart/alternative; boundary="${boundary}"`,
  });
  const bodies = (['text', 'html'] as const).map((kind) => ({
    kind,
    head: `--${boundary}\r\nContent-Type: text/${kind === 'text' ? 'plain' : 'html'}; charset=utf-8\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\n`,
    parts: encodeParts(sending.compiled[kind], quoted),
  }));
  return (contact, address) => {
    const body = {
      campaign: sending.campaign,
      contact: contact.id,
      link: 0,
    };
    const leaveToken = keys.sign('leave', body);
    const leave = `${sending.publicUrl}/leave/${leaveToken}`;
    const links: string[] = [];
    const reader = {
      value: fieldText(contact, fields, sending.language),
      link: (link: number) =>
        (links[link] ??= `${sending.publicUrl}/c/${keys.sign('click', { ...body, link })}`),
      leave,
      open: `${sending.publicUrl}/o/${keys.sign('open', body)}`,
    };
    const leaveMail = sending.bounceDomain
      ? `, <mailto:leave+${leaveToken}@${sending.bounceDomain}>`
      : '';
    const raw = [
      headers(root, {
        to: {
          name: headerName(`${contact.givenName} ${contact.familyName}`),
          address: envelopeAddress(address),
        },
        subject: personalise(sending.compiled.subject, reader, 'header'),
      }),
      `Date: ${new Date().toUTCString().replace('GMT', '+0000')}`,
      `Message-ID: <${keys.sign('message', body)}@${senderDomain}>`,
      `List-Unsubscribe: <${leave}>${leaveMail}`,
      shared,
      '',
      ...bodies.map((one) => `${one.head}${personalise(one.parts, reader, one.kind, quoted)}\r\n`),
      `--${boundary}--`,
      '',
    ].join('\r\n');
    return {
      from: sending.bounceDomain
        ? `bounce+${keys.sign('bounce', body)}@${sending.bounceDomain}`
        : envelopeAddress(sending.senderAddress),
      to: envelopeAddress(address),
      raw: Buffer.from(raw),
    };
  };
}

/** RFC 5322: a line has 998 signs at the most, and a name without blanks can't be folded. */
const NAME = 100;
function headerName(name: string): string {
  const signs = [...oneLine(name)];
  return signs.length <= NAME ? signs.join('') : `${signs.slice(0, NAME - 1).join('')}…`;
}

/** Header lines, encoded and folded; as of a part of `root`, so that nothing is added to them. */
const headers = (root: MimeNode, given: Parameters<MimeNode['setHeader']>[0]): string =>
  new MimeNode(undefined, { rootNode: root }).setHeader(given).buildHeaders();

/** A trial copy: marked as one, with plain links, counted nowhere. */
export async function composeProof(
  sending: Sending,
  example: ContactRow | undefined,
  to: string,
  fields: ReadonlyMap<string, Field>,
): Promise<Mail> {
  const reader = {
    value: example ? fieldText(example, fields, sending.language) : () => '',
    link: (link: number) => sending.compiled.links[link]?.url ?? '',
    leave: `${sending.publicUrl}/leave/proof`,
    open: 'data:,',
  };
  const html = personalise(sending.compiled.html, reader, 'html').replace(
    /(<body[^>]*>)/i,
    '$1<p style="margin:0;padding:8px;background:#F8EDF3;color:#8A2B5B;font:bold 14px Verdana,Arial,sans-serif;text-align:center">This is a proof. Nothing in it is counted.</p>',
  );
  const raw = await build({
    from: { name: sending.senderName, address: sending.senderAddress },
    to,
    ...(sending.replyTo ? { replyTo: sending.replyTo } : {}),
    subject: `Proof: ${personalise(sending.compiled.subject, reader, 'header')}`,
    html,
    text: `This is a proof. Nothing in it is counted.\n\n${personalise(sending.compiled.text, reader, 'text')}`,
  });
  return { from: envelopeAddress(sending.senderAddress), to: envelopeAddress(to), raw };
}

/** A plain letter about the office's own letters, to one address. */
export async function composeNote(
  from: { readonly name: string; readonly address: string },
  to: string,
  subject: string,
  text: string,
): Promise<Mail> {
  return {
    from: envelopeAddress(from.address),
    to: envelopeAddress(to),
    raw: await build({ from, to, subject, text, headers: { 'Auto-Submitted': 'auto-generated' } }),
  };
}

function build(message: ConstructorParameters<typeof MailComposer>[0]): Promise<Buffer> {
  const composer = new MailComposer({
    ...message,
    textEncoding: 'quoted-printable',
    disableFileAccess: true,
    disableUrlAccess: true,
  });
  return new Promise((resolve, reject) =>
    composer.compile().build((error, contents) => (error ? reject(error) : resolve(contents))),
  );
}
