// An office that may not be what it takes itself for sends nothing: somebody says of each campaign that was going
// out how it goes on, and then that the office may send again.
import { Inject, Injectable } from '@nestjs/common';
import type { StandbyReply, StandbyWord } from '@palabra/contract/delivery';
import { leadsFrom, type PlainStep, type CampaignId } from '@palabra/core/campaigns';
import type { Clock } from '@palabra/core/kernel';
import { CampaignsService, factsChanged } from '../campaigns/index.js';

import { countSent } from './person-facts.store.js';
import * as continuity from '../platform/continuity.store.js';
import { Database } from '../platform/database.js';
import { Foreground, Stride } from '../platform/stride.js';
import { CLOCK } from '../platform/time.js';
import { countAsSent } from './delivery.store.js';
import * as store from './standby.store.js';
import { refuse } from './delivery.refusals.js';

const STRETCH = { first: 500, least: 250, most: 5000 };

/** How a campaign is ended, whatever it is doing. */
const endings: readonly PlainStep[] = ['stop', 'unschedule', 'back to draft', 'leave fixing'];

const words: readonly StandbyWord[] = ['go-on', 'count-as-sent', 'stop'];
export const isStandbyWord = (text: string): text is StandbyWord =>
  words.some((word) => word === text);

@Injectable()
export class StandbyService {
  constructor(
    private readonly database: Database,
    private readonly campaigns: CampaignsService,
    private readonly foreground: Foreground,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  async read(): Promise<StandbyReply | null> {
    const { db } = this.database;
    const row = await continuity.readContinuity(db);
    if (!row?.brokenBy || !row.asOf || !row.brokenAt) return null;
    const campaigns = await store.goingOut(db);
    return {
      reason: row.brokenBy,
      asOf: row.asOf.toISOString(),
      since: row.brokenAt.toISOString(),
      campaigns: campaigns.map(({ id, name, status, send_at, done, open }) => ({
        id,
        name,
        status,
        sendAt: send_at?.toISOString() ?? null,
        done,
        open,
        isDecided: row.decided.includes(id),
      })),
      mails: await store.countMails(db),
    };
  }

  private async held(campaign: CampaignId): Promise<store.HeldCampaign> {
    const { db } = this.database;
    const found = (await continuity.readContinuity(db))?.brokenBy
      ? (await store.goingOut(db)).find(({ id }) => id === campaign)
      : undefined;
    if (!found) throw refuse('not-waiting');
    return found;
  }

  async decide(id: CampaignId, word: StandbyWord): Promise<void> {
    const { status } = await this.held(id);
    if (word === 'count-as-sent') {
      if (!leadsFrom('count as sent', status)) throw refuse('not-written-down');
      await this.countAll(id);
    } else if (word === 'stop') {
      const step = endings.find((one) => leadsFrom(one, status));
      if (step) await this.campaigns.order(id, { step });
    }
    await continuity.decide(this.database.db, id);
  }

  private async countAll(id: CampaignId): Promise<void> {
    const stride = new Stride(this.foreground, STRETCH.first, STRETCH.least, STRETCH.most);
    const count = (size: number): Promise<number> =>
      this.database.transaction(async (tx) => {
        const settled = await countAsSent(tx, id, this.clock.now(), size);
        await countSent(
          tx,
          settled.flatMap(({ contactId, acceptedAt }) =>
            acceptedAt ? [{ contactId, at: acceptedAt }] : [],
          ),
        );
        await factsChanged(tx, [id]);
        return settled.length;
      });
    await this.foreground.aside(async () => {
      while ((await stride.step(count)) > 0);
    });
    await this.campaigns.order(id, { step: 'count as sent' });
  }

  /** The office sends again. */
  async end(): Promise<void> {
    const standby = await this.read();
    if (!standby) return;
    const open = standby.campaigns.filter(({ isDecided }) => !isDecided);
    if (open.length > 0)
      throw refuse(
        'undecided',
        open.map(({ name }) => name),
      );
    await continuity.mendContinuity(this.database.db);
  }
}
