import type { CampaignId } from '@palabra/core/campaigns';
import { Controller, Get, HttpCode, Param, ParseIntPipe, Post } from '@nestjs/common';
import type { StandbyReply } from '@palabra/contract/delivery';
import { notFound } from '../platform/refusals.js';
import { May, Tells } from '../platform/sign-in/guard.js';
import { isStandbyWord, StandbyService } from './standby.service.js';

@Controller('api/standby')
export class StandbyController {
  constructor(private readonly standby: StandbyService) {}

  /** Why nothing leaves the office at the moment, and what was going out or planned; null when all is well. */
  @Get()
  @Tells('shared')
  async read(): Promise<{ standby: StandbyReply | null }> {
    return { standby: await this.standby.read() };
  }

  @Post('end')
  @HttpCode(204)
  @May('send')
  @Tells('nobody')
  end(): Promise<void> {
    return this.standby.end();
  }

  @Post(':campaign/:word')
  @HttpCode(204)
  @May('send')
  @Tells('nobody')
  async decide(
    @Param('campaign', ParseIntPipe) campaign: CampaignId,
    @Param('word') word: string,
  ): Promise<void> {
    if (!isStandbyWord(word)) throw notFound('step');
    await this.standby.decide(campaign, word);
  }
}
