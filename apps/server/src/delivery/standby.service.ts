// An office that may not be what it takes itself for sends nothing: somebody says of each campaign that was going
// out how it goes on, and then that the office may send again.
import { Inject, Injectable } from '@nestjs/common';
import type { StandbyReply, StandbyWord } from '@palabra/contract/campaigns';
import { leaveFixing } from '@palabra/core/campaigns';
import type { Clock } from '@palabra/core/kernel';
import { ok } from '@palabra/core/kernel';
import { campaignStore, CampaignsService } from '../campaigns/index.js';
import { countSent } from '../contacts/index.js';
import * as continuity from '../platform/continuity.store.js';
import { Database } from '../platform/database.js';
import { Problem } from '../platform/problem.js';
import { Foreground, Stride } from '../platform/stride.js';
import { CLOCK } from '../platform/time.js';
import { countAsSent } from './delivery.store.js';
import * as store from './standby.store.js';

const STRETCH = { first: 500, least: 250, most: 5000 };

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
      notes: await store.countNotes(db),
    };
  }

  private async held(campaign: number): Promise<store.HeldCampaign> {
    const { db } = this.database;
    const found = (await continuity.readContinuity(db))?.brokenBy
      ? (await store.goingOut(db)).find(({ id }) => id === campaign)
      : undefined;
    if (!found) throw new Problem(422, 'This campaign is not waiting for a word.');
    return found;
  }

  async decide(id: number, word: StandbyWord): Promise<void> {
    const { status } = await this.held(id);
    const hasBegun = status === 'sending' || status === 'paused';
    if (word === 'count-as-sent') {
      if (!hasBegun)
        throw new Problem(
          422,
          'Its recipients are not written down, so nobody can be counted. Let it go on, or stop it.',
        );
      await this.countAll(id);
    } else if (word === 'stop') {
      if (hasBegun) await this.campaigns.move(id, 'stop');
      else if (status === 'scheduled') await this.campaigns.move(id, 'unschedule');
      else if (status === 'differs') await this.campaigns.move(id, 'back to draft');
      else await this.campaigns.step(id, (state) => ok(leaveFixing(state)));
    }
    await continuity.decide(this.database.db, id);
  }

  private async countAll(id: number): Promise<void> {
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
        await campaignStore.factsChanged(tx, [id]);
        return settled.length;
      });
    await this.foreground.aside(async () => {
      while ((await stride.step(count)) > 0);
    });
    await this.database.transaction((tx) =>
      campaignStore.writeState(tx, id, { status: 'sent' }, this.clock.now()),
    );
  }

  /** The office sends again. */
  async end(): Promise<void> {
    const standby = await this.read();
    if (!standby) return;
    const open = standby.campaigns.filter(({ isDecided }) => !isDecided);
    if (open.length > 0)
      throw new Problem(
        422,
        `Say first how ${open.length === 1 ? `“${open[0]?.name ?? ''}” goes on` : `${open.length} campaigns go on`}.`,
      );
    await continuity.mendContinuity(this.database.db);
  }
}
