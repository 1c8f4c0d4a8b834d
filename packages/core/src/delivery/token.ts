// What stands in a signed address: a purpose, a campaign, a contact and, for a click, a link. Packed
// small, because a letter carries many.
import type { CampaignId } from '../campaigns/index.js';
import type { ContactId } from '../contacts/index.js';

export const purposes = ['open', 'click', 'leave', 'bounce', 'message'] as const;
export type Purpose = (typeof purposes)[number];

export interface TokenBody {
  readonly campaign: CampaignId;
  readonly contact: ContactId;
  /** Number of the link in its letter; 0 where there is none. */
  readonly link: number;
}

/** Variable-length integers (LEB128), unsigned. */
export function packBody({ campaign, contact, link }: TokenBody): Uint8Array {
  const out: number[] = [];
  for (let value of [campaign as number, contact as number, link]) {
    while (value >= 0x80) {
      out.push((value & 0x7f) | 0x80);
      value = Math.floor(value / 0x80);
    }
    out.push(value);
  }
  return Uint8Array.from(out);
}

export function unpackBody(bytes: Uint8Array): TokenBody | undefined {
  const values: number[] = [];
  let value = 0;
  let factor = 1;
  for (const byte of bytes) {
    value += (byte & 0x7f) * factor;
    if (byte >= 0x80) factor *= 0x80;
    else {
      values.push(value);
      value = 0;
      factor = 1;
    }
    if (value > 2 ** 31) return undefined;
  }
  const [campaign, contact, link] = values;
  if (values.length !== 3 || factor !== 1 || !campaign || !contact || link === undefined)
    return undefined;
  return { campaign: campaign as CampaignId, contact: contact as ContactId, link };
}
