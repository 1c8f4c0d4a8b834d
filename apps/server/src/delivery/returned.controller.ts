import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post, Query } from '@nestjs/common';
import {
  ReturnedQuery,
  SortReturnedRequest,
  type ReturnedPage,
  type ReturnedReply,
} from '@palabra/contract/delivery';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import { campaignById } from '../campaigns/index.js';
import { anyContacts } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { Asking, May, Tells } from '../platform/sign-in/guard.js';
import { ReturnedService } from './returned.service.js';
import { countOpen, listReturned, type ReturnedMail } from './returned.store.js';

const PAGE = 50;

@Controller('api/returned')
export class ReturnedController {
  constructor(
    private readonly returned: ReturnedService,
    private readonly database: Database,
  ) {}

  /** Mail that came back: of everybody, so only for who sees everybody. */
  @Get()
  @Tells('own people')
  async list(
    @Query() { open, before }: ReturnedQuery,
    @Asking() viewer: Viewer,
  ): Promise<ReturnedPage> {
    const { db } = this.database;
    if (!seesEverybody(viewer.role)) return { mails: [], open: 0, before: null };
    const total = await countOpen(db);
    const rows = await listReturned(db, { open: open === 'yes', before, limit: PAGE });
    const people = new Map(
      (
        await anyContacts(
          db,
          rows.flatMap(({ contactId }) => contactId ?? []),
        )
      ).map((row) => [row.id, row]),
    );
    const mails: ReturnedReply[] = [];
    for (const row of rows) {
      const campaign = row.campaignId === null ? undefined : await campaignById(db, row.campaignId);
      const person = row.contactId === null ? undefined : people.get(row.contactId);
      mails.push(
        reply(
          row,
          campaign && { id: campaign.id, name: campaign.name },
          person && {
            id: person.id,
            givenName: person.givenName,
            familyName: person.familyName,
            address: person.address,
          },
        ),
      );
    }
    return { mails, open: total, before: rows.length === PAGE ? (rows.at(-1)?.id ?? null) : null };
  }

  @Post(':id/sort')
  @HttpCode(204)
  @May('send')
  @Tells('own people')
  sort(
    @Param('id', ParseIntPipe) id: number,
    @Body() request: SortReturnedRequest,
    @Asking() viewer: Viewer,
  ): Promise<void> {
    return this.returned.sort(id, request, viewer);
  }
}

const reply = (
  mail: ReturnedMail,
  campaign: ReturnedReply['campaign'],
  person: ReturnedReply['person'],
): ReturnedReply => ({
  id: mail.id,
  at: mail.at.toISOString(),
  kind: mail.kind,
  bounce: mail.bounce,
  evidence: mail.evidence,
  sender: mail.sender,
  subject: mail.subject,
  excerpt: mail.excerpt,
  diagnosis: mail.diagnosis,
  isOpen: mail.handledAt === null,
  campaign,
  person,
});
