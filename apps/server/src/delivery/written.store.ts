// Who is behind the numbers of a campaign whose recipients are written: before that, the sheet says it.
import { reasonOfPart, type CampaignId } from '@palabra/core/campaigns';
import { sql, type SQL } from 'drizzle-orm';
import { deliveries, events, heldBack } from './delivery.table.js';
import { meaningOfPart } from './numbers.store.js';

/** People of one line of a campaign whose recipients are written, or of one of its results. */
export function writtenPeople(campaignId: CampaignId, part: string): SQL | undefined {
  const letters = (condition: SQL): SQL =>
    sql`c.id in (select contact_id from ${deliveries} where campaign_id = ${campaignId} and ${condition})`;
  const held = (condition: SQL): SQL =>
    sql`c.id in (select contact_id from ${heldBack} where campaign_id = ${campaignId} and ${condition})`;
  const reason = reasonOfPart(part);
  if (reason) return held(sql`reason = ${reason}`);
  const link = /^link-(\d{1,4})$/.exec(part)?.[1];
  if (link)
    return sql`c.id in (select contact_id from ${events} where campaign_id = ${campaignId} and kind = 'clicked' and not machine and link = ${Number(link)})`;
  switch (part) {
    case 'matched':
      return sql`(${held(sql`true`)} or ${letters(sql`true`)})`;
    case 'held-back':
      return held(sql`true`);
    case 'receives':
      return letters(sql`true`);
    default: {
      const meaning = meaningOfPart(part);
      return meaning && letters(meaning);
    }
  }
}
