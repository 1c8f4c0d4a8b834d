import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Ip,
  Param,
  ParseIntPipe,
  Post,
  Put,
  Req,
  Res,
} from '@nestjs/common';
import {
  AccountRequest,
  EntryRequest,
  ForgottenRequest,
  LinkRequest,
  OwnAccountRequest,
  type Account,
  type AccountLine,
  type EntryReply,
  type LinkReply,
  type SessionLine,
} from '@palabra/contract/office';
import { allowed, type SessionId, type UserId, type Viewer } from '@palabra/core/office';
import type { Response } from 'express';
import { Database } from '../platform/database.js';
import { notFound, refuse } from '../platform/refusals.js';
import { Asking, May, Open, Tells, type SignedRequest } from '../platform/sign-in/guard.js';
import { SignIn } from '../platform/sign-in/sign-in.js';
import {
  allUsers,
  endSessionOf,
  lastSeen,
  type Colleague,
} from '../platform/sign-in/sign-in.store.js';
import { AccountsService, stateOf } from './accounts.service.js';

const account = ({ id, name, address, role }: Colleague): Account => ({ id, name, address, role });

@Controller('api')
export class AccountsController {
  constructor(
    private readonly accounts: AccountsService,
    private readonly signIn: SignIn,
    private readonly database: Database,
  ) {}

  @Put('me')
  @Tells('nobody')
  async changeOwn(
    @Body() request: OwnAccountRequest,
    @Req() { user }: SignedRequest,
  ): Promise<Account> {
    if (!user) throw refuse('session-ended');
    return account(await this.accounts.changeOwn(user, request));
  }

  @Post('me/welcomed')
  @HttpCode(204)
  @Tells('nobody')
  async welcomed(@Asking() viewer: Viewer): Promise<void> {
    await this.accounts.welcomed(viewer.userId);
  }

  @Get('sessions')
  @Tells('nobody')
  async sessions(@Req() { user, sessionToken }: SignedRequest): Promise<SessionLine[]> {
    if (!user || !sessionToken) throw refuse('session-ended');
    return this.signIn.sessions(user, sessionToken);
  }

  @Delete('sessions/:id')
  @HttpCode(204)
  @Tells('nobody')
  async endSession(
    @Param('id', ParseIntPipe) id: SessionId,
    @Asking() viewer: Viewer,
  ): Promise<void> {
    if (!(await endSessionOf(this.database.db, viewer.userId, id))) throw notFound('session');
  }

  @Get('accounts')
  @Tells('nobody')
  async list(@Asking() viewer: Viewer): Promise<AccountLine[]> {
    const { db } = this.database;
    // Addresses to sign in with, and who was here when, are for who sees to the accounts.
    const seesAll = allowed(viewer.role, 'settings');
    const seen = seesAll ? await lastSeen(db) : new Map<UserId, Date>();
    return (await allUsers(db)).map((one) => ({
      ...account(one),
      ...(seesAll ? {} : { address: null }),
      state: stateOf(one),
      seenAt: seen.get(one.id)?.toISOString() ?? null,
    }));
  }

  @Post('accounts')
  @May('settings')
  @Tells('nobody')
  async add(@Body() request: AccountRequest): Promise<Account> {
    return account(await this.accounts.add(request));
  }

  @Put('accounts/:id')
  @May('settings')
  @Tells('nobody')
  async change(
    @Param('id', ParseIntPipe) id: UserId,
    @Body() request: AccountRequest,
  ): Promise<Account> {
    return account(await this.accounts.change(id, request));
  }

  @Post('accounts/:id/close')
  @HttpCode(204)
  @May('settings')
  @Tells('nobody')
  async close(@Param('id', ParseIntPipe) id: UserId, @Asking() viewer: Viewer): Promise<void> {
    await this.accounts.close(id, viewer.userId);
  }

  @Post('accounts/:id/open')
  @HttpCode(204)
  @May('settings')
  @Tells('nobody')
  async open(@Param('id', ParseIntPipe) id: UserId): Promise<void> {
    await this.accounts.open(id);
  }

  @Post('accounts/:id/link')
  @HttpCode(200)
  @May('settings')
  @Tells('nobody')
  async link(
    @Param('id', ParseIntPipe) id: UserId,
    @Body() request: LinkRequest,
  ): Promise<LinkReply> {
    return this.accounts.link(id, request.mail);
  }

  @Post('forgotten')
  @HttpCode(204)
  @Open()
  @Tells('nobody')
  async forgotten(@Body() request: ForgottenRequest, @Ip() client: string): Promise<void> {
    await this.accounts.forgotten(request.address, client);
  }

  @Get('entry/:token')
  @Open()
  @Tells('nobody')
  async entry(@Param('token') token: string): Promise<EntryReply> {
    return this.accounts.entry(token);
  }

  @Post('entry')
  @HttpCode(204)
  @Open()
  @Tells('nobody')
  async enter(
    @Body() request: EntryRequest,
    @Req() { headers }: SignedRequest,
    @Res({ passthrough: true }) response: Response,
  ): Promise<void> {
    response.setHeader(
      'Set-Cookie',
      await this.signIn.enter(request.token, request.password, headers['user-agent']),
    );
  }
}
