import { Body, Controller, Delete, Get, HttpCode, Inject, Ip, Post, Put, Req, Res } from '@nestjs/common';
import { AccountRequest, OfficeRequest, PasswordRequest, SetUpRequest, SignInRequest, type Account, type MeReply, type OfficeReply } from '@palabra/contract/office';
import type { Response } from 'express';
import type { Config } from '../platform/config.js';
import { Database } from '../platform/database.js';
import { Problem } from '../platform/problem.js';
import { May, Open, type SignedRequest } from '../platform/sign-in/guard.js';
import { SignIn } from '../platform/sign-in/sign-in.js';
import { allUsers, type User } from '../platform/sign-in/sign-in.store.js';
import { CONFIG } from '../platform/time.js';
import { OfficeService } from './office.service.js';
import { findOffice, theOffice, type Office } from './office.store.js';

const account = ({ id, name, address, role }: User): Account => ({ id, name, address, role });
const officeReply = ({ id: _, createdAt: __, ...settings }: Office): OfficeReply => settings;

@Controller('api')
export class OfficeController {
  constructor(
    private readonly office: OfficeService,
    private readonly signIn: SignIn,
    private readonly database: Database,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  @Get('health')
  @Open()
  async health(): Promise<{ ready: boolean }> {
    return { ready: await this.office.ready() };
  }

  @Get('me')
  @Open()
  async me(@Req() request: SignedRequest): Promise<MeReply> {
    const office = await findOffice(this.database.db);
    const { user } = request;
    return {
      needsSetUp: office === undefined,
      ...(user ? { user: account(user) } : {}),
      ...(user && office ? { office: officeReply(office) } : {}),
      ...(user && this.config.demo !== undefined ? { demo: { outside: process.env['OUTSIDE_URL'] ?? '' } } : {}),
    };
  }

  @Post('setup')
  @Open()
  async setUp(@Body() request: SetUpRequest, @Res({ passthrough: true }) response: Response): Promise<{ done: true }> {
    response.setHeader('Set-Cookie', await this.office.setUp(request));
    return { done: true };
  }

  @Post('session')
  @HttpCode(204)
  @Open()
  async signInHere(@Body() request: SignInRequest, @Ip() ip: string, @Req() { sessionToken }: SignedRequest, @Res({ passthrough: true }) response: Response): Promise<void> {
    response.setHeader('Set-Cookie', await this.signIn.signIn(request.address, request.password, ip));
    // A session that was there before ends: a cookie somebody planted is worth nothing.
    if (sessionToken) await this.signIn.signOut(sessionToken);
  }

  @Delete('session')
  @HttpCode(204)
  @Open()
  async signOut(@Req() request: SignedRequest, @Res({ passthrough: true }) response: Response): Promise<void> {
    response.setHeader('Set-Cookie', await this.signIn.signOut(request.sessionToken));
  }

  @Put('password')
  @HttpCode(204)
  async password(@Body() request: PasswordRequest, @Req() { user, sessionToken }: SignedRequest): Promise<void> {
    if (!user || !sessionToken) throw new Problem(401, 'Sign in first.');
    await this.signIn.changePassword(user, sessionToken, request.current, request.next);
  }

  @Get('office')
  async read(): Promise<OfficeReply> {
    return officeReply(await theOffice(this.database.db));
  }

  @Put('office')
  @May('settings')
  async change(@Body() request: OfficeRequest): Promise<OfficeReply> {
    return officeReply(await this.office.change(request));
  }

  @Get('accounts')
  async accounts(): Promise<Account[]> {
    return (await allUsers(this.database.db)).map(account);
  }

  @Post('accounts')
  @May('settings')
  async addAccount(@Body() request: AccountRequest): Promise<Account> {
    return account(await this.office.addAccount(request));
  }
}
