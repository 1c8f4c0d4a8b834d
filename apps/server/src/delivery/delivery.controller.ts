import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  Post,
  Req,
  Sse,
  type MessageEvent,
} from '@nestjs/common';
import { SettleRequest, type ProgressReply, type ProofReply } from '@palabra/contract/delivery';
import type { CampaignStatus, CampaignId } from '@palabra/core/campaigns';
import type { Viewer } from '@palabra/core/office';
import type { Observable } from 'rxjs';
import { CampaignsService, campaignById } from '../campaigns/index.js';
import { PeopleService } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { notFound } from '../platform/refusals.js';
import { Asking, May, Tells, type SignedRequest } from '../platform/sign-in/guard.js';
import { Streams } from '../platform/streams.js';
import { countFixed, countStates } from './delivery.store.js';
import { SendingService } from './sending.service.js';
import { refuse } from '../platform/refusals.js';

const MOVING: ReadonlySet<CampaignStatus> = new Set(['fixing', 'sending', 'scheduled', 'paused']);

@Controller('api/campaigns/:id')
export class DeliveryController {
  constructor(
    private readonly campaigns: CampaignsService,
    private readonly people: PeopleService,
    private readonly sending: SendingService,
    private readonly streams: Streams,
    private readonly database: Database,
  ) {}

  @Get('progress')
  @Tells('shared')
  async progress(@Param('id', ParseIntPipe) id: CampaignId): Promise<ProgressReply> {
    const { db } = this.database;
    const campaign = await campaignById(db, id);
    if (!campaign) throw notFound('campaign');
    const states = await countStates(db, id);
    const of = (...names: Parameters<typeof states.get>[0][]): number =>
      names.reduce((sum, name) => sum + (states.get(name) ?? 0), 0);
    return {
      status: campaign.status,
      trouble: campaign.trouble,
      fixing:
        campaign.status === 'fixing'
          ? { done: await countFixed(db, id), of: campaign.seen?.matched ?? 0 }
          : null,
      waiting: of('waiting', 'handing over'),
      accepted: of('accepted'),
      deferred: of('deferred'),
      bounced: of('bounced'),
      gaveUp: of('gave up'),
      uncertain: of('uncertain'),
      stopped: of('stopped'),
      heldBack: of('held back'),
      total: [...states.values()].reduce((sum, count) => sum + count, 0),
    };
  }

  /** The same as a stream, as long as something is under way. */
  @Sse('live')
  @Tells('shared')
  async live(
    @Param('id', ParseIntPipe) id: CampaignId,
    @Req() request: SignedRequest,
  ): Promise<Observable<MessageEvent>> {
    await this.campaigns.campaign(id);
    return this.streams.watch(
      request,
      `campaign ${id}`,
      () => this.progress(id),
      ({ status }) => MOVING.has(status),
    );
  }

  @Post('proof')
  @HttpCode(200)
  @Tells('own people')
  @May('write letters')
  async proof(
    @Param('id', ParseIntPipe) id: CampaignId,
    @Req() { user }: SignedRequest,
    @Asking() viewer: Viewer,
  ): Promise<ProofReply> {
    if (!user) throw refuse('session-ended');
    const campaign = await this.campaigns.campaign(id);
    const first =
      campaign.who.to.length === 0
        ? undefined
        : (await this.people.list({ of: `campaign.${id}.receives`, limit: 1 }, viewer))[0];
    await this.sending.proof(id, user.address, first?.id);
    return { to: user.address };
  }

  @Post('uncertain')
  @HttpCode(200)
  @Tells('shared')
  @May('send')
  async uncertain(
    @Param('id', ParseIntPipe) id: CampaignId,
    @Body() request: SettleRequest,
  ): Promise<{ count: number }> {
    return { count: await this.sending.settleUncertain(id, request.how) };
  }
}
