import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  Post,
  Put,
  Res,
} from '@nestjs/common';
import {
  CampaignRequest,
  ChosenRequest,
  NewCampaignRequest,
  SendRequest,
  type CampaignLine,
  type CampaignReply,
  type TallyReply,
  type WhoCountsReply,
} from '@palabra/contract/campaigns';
import {
  tallyDifferences,
  type CampaignId,
  type ChosenId,
  type PlainStep,
} from '@palabra/core/campaigns';
import type { Line, PersonalField } from '@palabra/core/letters';
import type { Response } from 'express';
import type { Viewer } from '@palabra/core/office';
import { Things } from '../contacts/index.js';
import { sendLetter } from '../letters/index.js';
import { Database } from '../platform/database.js';
import { notFound } from '../platform/refusals.js';
import { Asking, May, Tells } from '../platform/sign-in/guard.js';
import { CampaignsService } from './campaigns.service.js';
import { ChosenService } from './chosen.service.js';
import { allCampaigns, stateOf, type Campaign } from './campaigns.store.js';

/** Steps that a person takes by a word. */
const moves: readonly PlainStep[] = [
  'pause',
  'go on',
  'stop',
  'agree',
  'back to draft',
  'unschedule',
];

const iso = (at: Date | null): string | null => at?.toISOString() ?? null;
/** As it went out, or as it is written: words and personal fields. */
const subjectOf = (raw: readonly unknown[] | null): Line =>
  (raw ?? []).flatMap((part): Line => {
    if (typeof part === 'string') return [part];
    const { field, fallback } = part as Partial<PersonalField>;
    return field === undefined ? [] : [{ field, fallback: fallback ?? '' }];
  });

function reply(
  campaign: Campaign,
  names: CampaignReply['names'],
  whoUsed: CampaignReply['whoUsed'],
): CampaignReply {
  const state = stateOf(campaign);
  const differences =
    campaign.seen && campaign.tally ? tallyDifferences(campaign.seen, campaign.tally) : [];
  return {
    id: campaign.id,
    version: campaign.version,
    name: campaign.name,
    status: campaign.status,
    who: campaign.who,
    names,
    letterId: campaign.letterId,
    topicId: campaign.topicId,
    senderName: campaign.senderName,
    senderAddress: campaign.senderAddress,
    replyTo: campaign.replyTo,
    sendAt: iso(campaign.sendAt),
    startedAt: iso(campaign.startedAt),
    finishedAt: iso(campaign.finishedAt),
    trouble: campaign.trouble,
    differences: state.status === 'differs' || campaign.startedAt ? differences : [],
    tally: campaign.tally,
    whoUsed,
    ordered: campaign.seen,
  };
}

@Controller('api/campaigns')
export class CampaignsController {
  constructor(
    private readonly campaigns: CampaignsService,
    private readonly chosen: ChosenService,
    private readonly things: Things,
    private readonly database: Database,
  ) {}

  @Get()
  @Tells('shared')
  async list(): Promise<CampaignLine[]> {
    const rows = await allCampaigns(this.database.db);
    return rows.map((row) => ({
      id: row.id,
      name: row.name,
      status: row.status,
      subject: subjectOf(row.subject),
      sendAt: iso(row.send_at),
      startedAt: iso(row.started_at),
      updatedAt: row.updated_at.toISOString(),
      receives: row.tally?.receives ?? row.seen?.receives ?? null,
    }));
  }

  /** Keeps people to write to, chosen in a list. */
  @Post('people')
  @May('write letters')
  @Tells('nobody')
  async choose(
    @Body() request: ChosenRequest,
    @Asking() viewer: Viewer,
  ): Promise<{ id: ChosenId }> {
    return { id: await this.chosen.keep(request.people, viewer) };
  }

  @Post()
  @May('write letters')
  @Tells('nobody')
  async add(@Body() request: NewCampaignRequest): Promise<{ id: CampaignId; version: number }> {
    return { id: await this.campaigns.add(request), version: 1 };
  }

  @Get(':id')
  @Tells('shared')
  async one(
    @Param('id', ParseIntPipe) id: CampaignId,
    @Asking() viewer: Viewer,
  ): Promise<CampaignReply> {
    const campaign = await this.campaigns.campaign(id);
    return reply(
      campaign,
      await this.campaigns.names(campaign.who, viewer),
      await this.campaigns.usedFor(campaign, viewer),
    );
  }

  @Put(':id')
  @May('write letters')
  @Tells('nobody')
  change(
    @Param('id', ParseIntPipe) id: CampaignId,
    @Body() request: CampaignRequest,
  ): Promise<{ version: number }> {
    return this.campaigns.change(id, request);
  }

  @Delete(':id')
  @HttpCode(204)
  @May('write letters')
  @Tells('nobody')
  async remove(@Param('id', ParseIntPipe) id: CampaignId, @Asking() viewer: Viewer): Promise<void> {
    await this.things.remove('campaign', id, viewer);
  }

  @Post(':id/restore')
  @HttpCode(204)
  @May('write letters')
  @Tells('nobody')
  async restore(@Param('id', ParseIntPipe) id: CampaignId): Promise<void> {
    await this.things.restore('campaign', id);
  }

  /** The letter as it went out, or while it has not, as it would now. */
  @Get(':id/letter.html')
  @Tells('nobody')
  async letter(
    @Param('id', ParseIntPipe) id: CampaignId,
    @Res() response: Response,
  ): Promise<void> {
    sendLetter(response, await this.campaigns.letterHtml(id));
  }

  @Get(':id/tally')
  @Tells('shared')
  tally(@Param('id', ParseIntPipe) id: CampaignId, @Asking() viewer: Viewer): Promise<TallyReply> {
    return this.campaigns.account(id, viewer);
  }

  @Get(':id/who')
  @Tells('shared')
  who(@Param('id', ParseIntPipe) id: CampaignId): Promise<WhoCountsReply> {
    return this.campaigns.whoCounts(id);
  }

  @Post(':id/send')
  @HttpCode(204)
  @May('send')
  @Tells('shared')
  send(@Param('id', ParseIntPipe) id: CampaignId, @Body() request: SendRequest): Promise<void> {
    return this.campaigns.send(id, request.version, request.seen);
  }

  @Post(':id/move/:move')
  @HttpCode(204)
  @May('send')
  @Tells('shared')
  async move(
    @Param('id', ParseIntPipe) id: CampaignId,
    @Param('move') word: string,
  ): Promise<void> {
    const move = moves.find((one) => one.replaceAll(' ', '-') === word);
    if (!move) throw notFound('step of a campaign');
    await this.campaigns.order(id, { step: move });
  }
}
