// What readers do: opens and clicks come in groups, leaving is written before it is answered.
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { machineReason, type TokenBody } from '@palabra/core/delivery';
import type { Clock } from '@palabra/core/kernel';
import { isbot } from 'isbot';
import { campaignStore } from '../campaigns/index.js';
import { countResponses, putOnDoNotMail } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { log, safeError } from '../platform/log.js';
import { CLOCK } from '../platform/time.js';
import { delivery, markLeft } from './delivery.store.js';
import { addEvents, addToDeliveries, sumUp, type ReaderEvent } from './events.store.js';

/** At most this much may be lost in a crash. */
const GROUP_MS = 150;
/** Above this many the oldest wait for the database, not in memory without end. */
const MOST = 50_000;

export interface ReaderHit {
  readonly method: string;
  readonly agent: string;
  readonly purpose: string;
}

@Injectable()
export class ResponsesService implements OnApplicationShutdown {
  private group: ReaderEvent[] = [];
  private timer: NodeJS.Timeout | undefined;
  private writing: Promise<void> = Promise.resolve();
  /** Links of sent campaigns don't change. */
  private readonly links = new Map<number, readonly { readonly url: string }[]>();

  constructor(
    private readonly database: Database,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  opened(body: TokenBody, hit: ReaderHit): void {
    this.add('opened', body, hit);
  }

  /** Where the link leads, or undefined when the letter has no such link. */
  async clicked(body: TokenBody, hit: ReaderHit): Promise<string | undefined> {
    let links = this.links.get(body.campaign);
    if (!links) {
      links = (await campaignStore.campaignById(this.database.db, body.campaign))?.compiled?.links;
      if (!links) return undefined;
      this.links.set(body.campaign, links);
    }
    const target = links[body.link];
    if (target) this.add('clicked', body, hit);
    return target?.url;
  }

  private add(kind: 'opened' | 'clicked', { campaign, contact, link }: TokenBody, { method, agent, purpose }: ReaderHit): void {
    if (this.group.length >= MOST) return;
    const why = machineReason({ method, agent, purpose, knownAgent: agent !== '' && isbot(agent) }) ?? null;
    this.group.push({ kind, at: this.clock.now(), campaignId: campaign, contactId: contact, link: kind === 'clicked' ? link : null, machine: why !== null, why });
    this.timer ??= setTimeout(() => void this.flush(), GROUP_MS);
  }

  /** Writes what has gathered. A group that can't be written is kept for the next try. */
  flush(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = undefined;
    this.writing = this.writing.then(async () => {
      const group = this.group;
      this.group = [];
      if (group.length === 0) return;
      try {
        await this.database.transaction(async (tx) => {
          await addEvents(tx, group);
          await campaignStore.factsChanged(tx, group.map(({ campaignId }) => campaignId));
          await countResponses(tx, await addToDeliveries(tx, sumUp(group)));
        });
      } catch (error) {
        log.warn({ events: group.length, error: safeError(error) }, 'responses could not be written yet');
        this.group = [...group, ...this.group];
        this.timer ??= setTimeout(() => void this.flush(), 2000);
      }
    });
    return this.writing;
  }

  /** One click and final. Writing it twice changes nothing. */
  async leave({ campaign, contact }: TokenBody): Promise<'left' | 'unknown'> {
    const now = this.clock.now();
    return this.database.transaction(async (tx) => {
      const row = await delivery(tx, campaign, contact);
      if (!row) return 'unknown';
      await putOnDoNotMail(tx, { addressHash: row.address_hash, address: row.address, reason: 'left', at: now, campaignId: campaign });
      if (row.left_at === null) {
        await markLeft(tx, campaign, contact, now);
        await campaignStore.factsChanged(tx, [campaign]);
        await addEvents(tx, [{ kind: 'left', at: now, campaignId: campaign, contactId: contact, link: null, machine: false, why: null }]);
      }
      return 'left';
    });
  }

  async onApplicationShutdown(): Promise<void> {
    await this.flush().catch(() => undefined);
  }
}
