// One reader's message: the compiled letter filled in, with its headers.
import type { CampaignId } from '@palabra/core/campaigns';
import { formatFieldValue, type ContactId, type Field } from '@palabra/core/contacts';
import { personalise, type CompiledLetter } from '@palabra/core/letters';
import MailComposer from 'nodemailer/lib/mail-composer';
import { valueOf, type ContactRow } from '../contacts/index.js';
import type { Keys } from '../platform/keys.js';

export interface Sending {
  readonly campaign: number;
  readonly compiled: CompiledLetter;
  readonly senderName: string;
  readonly senderAddress: string;
  readonly replyTo: string;
  readonly officeName: string;
  readonly publicUrl: string;
  readonly bounceDomain: string | undefined;
}

export interface Mail {
  readonly from: string;
  readonly to: string;
  readonly raw: Buffer;
}

const domainOf = (address: string): string => address.slice(address.lastIndexOf('@') + 1);

const fieldText = (contact: ContactRow, fields: ReadonlyMap<string, Field>) => (key: string): string => {
  const field = fields.get(key);
  return field ? formatFieldValue(field, valueOf(contact, key)) : '';
};

/** A contact's own copy, with signed links and one-click leaving (RFC 8058, RFC 2369, RFC 2919). */
export async function composeMessage(sending: Sending, contact: ContactRow, address: string, fields: ReadonlyMap<string, Field>, keys: Keys): Promise<Mail> {
  const body = { campaign: sending.campaign as CampaignId, contact: contact.id as ContactId, link: 0 };
  const leave = `${sending.publicUrl}/leave/${keys.sign('leave', body)}`;
  const reader = {
    value: fieldText(contact, fields),
    link: (link: number) => `${sending.publicUrl}/c/${keys.sign('click', { ...body, link })}`,
    leave,
    open: `${sending.publicUrl}/o/${keys.sign('open', body)}`,
  };
  const bounce = keys.sign('bounce', body);
  const senderDomain = domainOf(sending.senderAddress);
  const leaveMail = sending.bounceDomain ? `, <mailto:leave+${keys.sign('leave', body)}@${sending.bounceDomain}>` : '';
  const raw = await build({
    from: { name: sending.senderName, address: sending.senderAddress },
    to: { name: `${contact.givenName} ${contact.familyName}`.trim(), address },
    ...(sending.replyTo ? { replyTo: sending.replyTo } : {}),
    subject: personalise(sending.compiled.subject, reader, 'header'),
    html: personalise(sending.compiled.html, reader, 'html'),
    text: personalise(sending.compiled.text, reader, 'text'),
    messageId: `<${keys.sign('message', body)}@${senderDomain}>`,
    headers: {
      'List-Id': { prepared: true, value: `<letters.${senderDomain}>` },
      'List-Unsubscribe': { prepared: true, value: `<${leave}>${leaveMail}` },
      'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
      Precedence: 'bulk',
    },
  });
  return { from: sending.bounceDomain ? `bounce+${bounce}@${sending.bounceDomain}` : sending.senderAddress, to: address, raw };
}

/** A trial copy: marked as one, with plain links, counted nowhere. */
export async function composeProof(sending: Sending, example: ContactRow | undefined, to: string, fields: ReadonlyMap<string, Field>): Promise<Mail> {
  const reader = {
    value: example ? fieldText(example, fields) : () => '',
    link: (link: number) => sending.compiled.links[link]?.url ?? '',
    leave: `${sending.publicUrl}/leave/proof`,
    open: 'data:,',
  };
  const html = personalise(sending.compiled.html, reader, 'html').replace(/(<body[^>]*>)/i, '$1<p style="margin:0;padding:8px;background:#F8EDF3;color:#8A2B5B;font:bold 14px Verdana,Arial,sans-serif;text-align:center">This is a proof. Nothing in it is counted.</p>');
  const raw = await build({
    from: { name: sending.senderName, address: sending.senderAddress },
    to,
    ...(sending.replyTo ? { replyTo: sending.replyTo } : {}),
    subject: `Proof: ${personalise(sending.compiled.subject, reader, 'header')}`,
    html,
    text: `This is a proof. Nothing in it is counted.\n\n${personalise(sending.compiled.text, reader, 'text')}`,
  });
  return { from: sending.senderAddress, to, raw };
}

/** A plain letter about the office's own letters, to one address. */
export async function composeNote(from: { readonly name: string; readonly address: string }, to: string, subject: string, text: string): Promise<Mail> {
  return { from: from.address, to, raw: await build({ from, to, subject, text, headers: { 'Auto-Submitted': 'auto-generated' } }) };
}

function build(message: ConstructorParameters<typeof MailComposer>[0]): Promise<Buffer> {
  const composer = new MailComposer({ ...message, textEncoding: 'quoted-printable', disableFileAccess: true, disableUrlAccess: true });
  return new Promise((resolve, reject) => composer.compile().build((error, contents) => (error || !contents ? reject(error ?? new Error('no message')) : resolve(contents))));
}
