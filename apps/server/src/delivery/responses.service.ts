// What readers do: opens and clicks come in groups, are told apart from machines', and are written together.
import type { CampaignId } from '@palabra/core/campaigns';
import type { ContactId } from '@palabra/core/contacts';
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import {
  AT_ONCE,
  labelHits,
  machineReason,
  type ReaderHit,
  type TokenBody,
} from '@palabra/core/delivery';
import type { Clock } from '@palabra/core/kernel';
import type { TrackedLink } from '@palabra/core/letters';
import { isbot } from 'isbot';
import { campaignById, factsChanged } from '../campaigns/index.js';
import { countResponses } from '../contacts/index.js';
import { recountContacts } from './person-facts.store.js';
import type { Config } from '../platform/config.js';
import { Database, type Db } from '../platform/database.js';
import { log, safeError } from '../platform/log.js';
import { CLOCK, CONFIG } from '../platform/time.js';
import {
  addEvents,
  addToDeliveries,
  clicksSince,
  relabel,
  seenDeliveries,
  sumUp,
  type ReaderEvent,
} from './events.store.js';
import { recountDeliveries } from './facts.store.js';

/** At most this much may be lost in a crash. */
const GROUP_MS = 150;
/** What goes into one transaction, so that others get their turn. */
const PART = 1000;
/** More than this don't fit into memory while the database is away; they are not counted, and the log says so. */
const MOST = 200_000;

export interface ReaderRequest {
  readonly method: string;
  readonly agent: string;
  readonly purpose: string;
}

@Injectable()
export class ResponsesService implements OnApplicationShutdown {
  private group: ReaderEvent[] = [];
  private dropped = 0;
  private timer: NodeJS.Timeout | undefined;
  private writing: Promise<void> = Promise.resolve();
  /** Links of sent campaigns don't change. */
  private readonly links = new Map<number, readonly TrackedLink[]>();

  constructor(
    private readonly database: Database,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  opened(body: TokenBody, hit: ReaderRequest): void {
    this.add('opened', body, hit);
  }

  clicked(body: TokenBody, hit: ReaderRequest): void {
    this.add('clicked', body, hit);
  }

  /** Where a link leads, as far as that is known without a look at the database. */
  knownTarget({ campaign, link }: TokenBody): string | undefined {
    return this.links.get(campaign)?.[link]?.url;
  }

  /** Where a link leads, or undefined when the letter has no such link. */
  async target(body: TokenBody): Promise<string | undefined> {
    if (!this.links.has(body.campaign)) {
      const links = (await campaignById(this.database.db, body.campaign))?.compiled?.links;
      if (links) this.links.set(body.campaign, links);
    }
    return this.knownTarget(body);
  }

  private add(
    kind: 'opened' | 'clicked',
    { campaign, contact, link }: TokenBody,
    { method, agent, purpose }: ReaderRequest,
  ): void {
    if (this.group.length >= MOST) {
      if (this.dropped++ % 10_000 === 0)
        log.error(
          { waiting: MOST, dropped: this.dropped },
          'too many responses wait to be written; more are not counted',
        );
      return;
    }
    const why =
      machineReason({ method, agent, purpose, knownAgent: agent !== '' && isbot(agent) }) ?? null;
    this.group.push({
      kind,
      at: this.clock.now(),
      campaignId: campaign,
      contactId: contact,
      link: kind === 'clicked' ? link : null,
      machine: why !== null,
      why,
    });
    this.timer ??= setTimeout(() => void this.flush(), GROUP_MS);
  }

  /** Writes what has gathered, a part at a time. What can't be written is kept for the next try. */
  flush(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = undefined;
    this.writing = this.writing.then(async () => {
      while (this.group.length > 0) {
        const part = this.group.splice(0, PART);
        try {
          await this.database.transaction((tx) => this.write(tx, part));
        } catch (error) {
          log.warn(
            { events: part.length, error: safeError(error) },
            'responses could not be written yet',
          );
          this.group = [...part, ...this.group];
          this.timer ??= setTimeout(() => void this.flush(), 2000);
          return;
        }
      }
    });
    return this.writing;
  }

  private async write(tx: Db, group: readonly ReaderEvent[]): Promise<void> {
    const { events, relabelled } = await this.label(tx, group);
    await addEvents(tx, events);
    await factsChanged(
      tx,
      events.map(({ campaignId }) => campaignId),
    );
    await countResponses(tx, await addToDeliveries(tx, sumUp(events)));
    if (relabelled.length === 0) return;
    await relabel(tx, relabelled);
    await recountDeliveries(tx, relabelled);
    await recountContacts(
      tx,
      relabelled.map(({ contactId }) => contactId),
    );
  }

  /** Tells machines by what a request alone does not show: how soon it comes, and in what company. */
  private async label(
    tx: Db,
    group: readonly ReaderEvent[],
  ): Promise<{
    events: ReaderEvent[];
    relabelled: { id: number; why: string; campaignId: CampaignId; contactId: ContactId }[];
  }> {
    const byDelivery = groupBy(group, keyOf);
    const keys = [...byDelivery.values()].flatMap(([first]) =>
      first ? [{ campaignId: first.campaignId, contactId: first.contactId }] : [],
    );
    const seen = new Map(
      (await seenDeliveries(tx, keys)).map((row) => [`${row.campaign_id} ${row.contact_id}`, row]),
    );
    const clickers = [
      ...new Set(group.filter(({ kind }) => kind === 'clicked').map(({ contactId }) => contactId)),
    ];
    const earliest = Math.min(...group.map(({ at }) => at.getTime()));
    const written = groupBy(
      await clicksSince(tx, clickers, new Date(earliest - AT_ONCE)),
      (click) => `${click.campaign_id} ${click.contact_id}`,
    );
    const events: ReaderEvent[] = [];
    const relabelled: { id: number; why: string; campaignId: CampaignId; contactId: ContactId }[] =
      [];
    for (const [key, hits] of byDelivery) {
      const before = written.get(key) ?? [];
      const row = seen.get(key);
      const [{ campaignId, contactId }] = hits as [ReaderEvent];
      const hiddenLinks = (this.links.get(campaignId) ?? []).flatMap(({ isHidden }, link) =>
        isHidden ? [link] : [],
      );
      const labels = labelHits(
        hits.map(asHit),
        before.map(({ at, link, why }) => ({ kind: 'clicked', at, link, why })),
        {
          acceptedAt: row?.accepted_at ?? null,
          isUnderWay: row?.state === 'handing over',
          hiddenLinks,
        },
        this.config.pace,
      );
      hits.forEach((hit, at) => {
        const why = labels.why[at] ?? null;
        events.push({ ...hit, machine: why !== null, why });
      });
      for (const { at, why } of labels.relabel) {
        const click = before[at];
        if (click) relabelled.push({ id: click.id, why, campaignId, contactId });
      }
    }
    return { events, relabelled };
  }

  async onApplicationShutdown(): Promise<void> {
    await this.flush().catch(() => undefined);
  }
}

const keyOf = ({ campaignId, contactId }: ReaderEvent): string => `${campaignId} ${contactId}`;
const asHit = ({ kind, at, link, why }: ReaderEvent): ReaderHit => ({
  kind: kind === 'clicked' ? 'clicked' : 'opened',
  at,
  link,
  why,
});

function groupBy<T>(items: readonly T[], key: (item: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const item of items) {
    const group = groups.get(key(item));
    if (group) group.push(item);
    else groups.set(key(item), [item]);
  }
  return groups;
}
