// Results: counts and rates of what came back, each of which opens into people.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { ResultLine, ResultReply } from '@palabra/contract/results';
import { noneHeldBack, type CampaignId } from '@palabra/core/campaigns';
import type { Clock } from '@palabra/core/kernel';
import { CampaignsService } from '../campaigns/index.js';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import { allOf, living, PeopleSets, scope } from '../contacts/index.js';
import { theOffice } from '../office/index.js';
import { Database } from '../platform/database.js';
import { CLOCK } from '../platform/time.js';
import * as store from './results.store.js';
import type { ResultDetail } from './results.table.js';
import { refuse } from '../platform/refusals.js';

const HOUR = 3600_000;
/** The chart shows the days in which nearly everything comes back. */
const SHOWN_DAYS = 3;

@Injectable()
export class ResultsService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly campaigns: CampaignsService,
    private readonly sets: PeopleSets,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    // `since.DAYS.what`: people to whom something happened in the last days.
    this.sets.register('since', 'of whoever asks', async ({ id: days, part }) => {
      const from = this.ago(days);
      const within = days === 1 ? 'since yesterday' : `in the last ${days} days`;
      if (part === 'came-in') return { title: `came in ${within}`, among: store.cameInSince(from) };
      if (part === 'left')
        return { title: `left ${within}`, among: store.onDoNotMailSince(from, 'left') };
      if (part === 'hard-bounce')
        return {
          title: `found to have a dead address ${within}`,
          among: store.onDoNotMailSince(from, 'hard bounce'),
        };
      if (part === 'responded')
        return { title: `responded ${within}`, among: store.respondedSince(from) };
      return undefined;
    });
  }

  private ago(days: number): Date {
    return new Date(this.clock.now().getTime() - days * 24 * HOUR);
  }

  async since(days: number, viewer: Viewer): Promise<store.Since & { from: Date }> {
    const from = this.ago(days);
    return { from, ...(await store.since(this.database.db, from, scope(viewer))) };
  }

  async list(before: string | undefined, limit: number): Promise<ResultLine[]> {
    const from = before === undefined ? undefined : new Date(before);
    if (from && Number.isNaN(from.getTime())) throw refuse('no-such-page');
    const lines: ResultLine[] = [];
    for (const {
      id,
      name,
      subject,
      status,
      started_at,
      facts_version,
    } of await store.sentCampaigns(this.database.db, from, limit)) {
      const { sent, accepted, arrived, opened, clicked, bounced, left } = await store.countsOf(
        this.database.db,
        { id, status, factsVersion: facts_version },
      );
      lines.push({
        id,
        name,
        subject: subject ?? '',
        startedAt: started_at.toISOString(),
        status,
        sent,
        delivered: accepted,
        arrived,
        opened,
        clicked,
        bounced,
        left,
      });
    }
    return lines;
  }

  async one(id: CampaignId, viewer: Viewer): Promise<ResultReply> {
    const { db } = this.database;
    const campaign = await this.campaigns.campaign(id);
    const office = await theOffice(db);
    const counts = await store.countsOf(db, campaign);
    const now = this.clock.now();
    const started = campaign.startedAt ?? now;
    const step = now.getTime() - started.getTime() < 3 * HOUR ? 'minute' : 'hour';
    const count = async (): Promise<ResultDetail> => {
      const points = await store.overTime(
        db,
        id,
        step,
        office.timeZone,
        new Date(started.getTime() + SHOWN_DAYS * 24 * HOUR),
      );
      return {
        links: await store.clicksByLink(db, id),
        points: points.map((point) => ({ ...point, at: point.at.toISOString() })),
      };
    };
    // By the minute it is a fresh campaign, whose course is drawn anew each time.
    const detail = step === 'hour' ? await store.detailOf(db, campaign, count) : await count();
    const links = (campaign.compiled?.links ?? []).flatMap(({ label, url, isHidden }, link) =>
      isHidden ? [] : [{ link, label, url, people: 0, machines: 0, ...detail.links[link] }],
    );
    return {
      id,
      name: campaign.name,
      subject: campaign.subject ?? '',
      status: campaign.status,
      startedAt: campaign.startedAt?.toISOString() ?? null,
      finishedAt: campaign.finishedAt?.toISOString() ?? null,
      tally: campaign.tally ?? { matched: 0, heldBack: noneHeldBack, receives: 0 },
      counts,
      yours: seesEverybody(viewer.role)
        ? null
        : await store.resultCounts(db, id, allOf(living, scope(viewer))),
      links: links.sort((a, b) => b.people - a.people || a.link - b.link),
      step,
      points: detail.points,
    };
  }
}
