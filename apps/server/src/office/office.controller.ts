import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Inject,
  Ip,
  Param,
  ParseIntPipe,
  Post,
  Put,
  Req,
  Res,
} from '@nestjs/common';
import {
  OfficeRequest,
  PasswordRequest,
  SetUpRequest,
  SignInRequest,
  type MeReply,
  type OfficeReply,
  type StandstillReply,
} from '@palabra/contract/office';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import type { Response } from 'express';
import type { Config } from '../platform/config.js';
import { Database } from '../platform/database.js';
import { Jobs } from '../platform/jobs.js';
import { notFound } from '../platform/refusals.js';
import { Asking, May, Open, Tells, type SignedRequest } from '../platform/sign-in/guard.js';
import { SignIn } from '../platform/sign-in/sign-in.js';
import type { User } from '../platform/sign-in/sign-in.store.js';
import { stoppedWork } from '../platform/standstill.store.js';
import { CONFIG } from '../platform/time.js';
import { OfficeService } from './office.service.js';
import { findOffice, theOffice, type Office } from './office.store.js';
import { refuse as refuseOffice } from './office.refusals.js';
import { refuse } from '../platform/refusals.js';

const signedIn = ({ id, name, address, role, welcomedAt }: User): NonNullable<MeReply['user']> => ({
  id,
  name,
  address,
  role,
  isNew: welcomedAt === null,
});
const officeReply = ({
  id: _,
  createdAt: __,
  mailTakesUtf8: ___,
  ...settings
}: Office): OfficeReply => settings;

@Controller('api')
export class OfficeController {
  constructor(
    private readonly office: OfficeService,
    private readonly signIn: SignIn,
    private readonly jobs: Jobs,
    private readonly database: Database,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  @Get('health')
  @Open()
  @Tells('nobody')
  async health(): Promise<{ ready: boolean }> {
    return { ready: await this.office.ready() };
  }

  @Get('me')
  @Open()
  @Tells('nobody')
  async me(@Req() request: SignedRequest): Promise<MeReply> {
    const office = await findOffice(this.database.db);
    const { user } = request;
    return {
      needsSetUp: office === undefined,
      ...(user ? { user: signedIn(user) } : {}),
      ...(user && office ? { office: officeReply(office) } : {}),
      ...(user && this.config.demo !== undefined
        ? { demo: { outside: process.env['OUTSIDE_URL'] ?? '' } }
        : {}),
    };
  }

  @Post('setup')
  @Open()
  @Tells('nobody')
  async setUp(
    @Body() request: SetUpRequest,
    @Ip() ip: string,
    @Req() { headers }: SignedRequest,
    @Res({ passthrough: true }) response: Response,
  ): Promise<{ done: true }> {
    if (await findOffice(this.database.db)) throw refuseOffice('set-up-already');
    await this.signIn.needSetUpCode(request.code, ip);
    response.setHeader('Set-Cookie', await this.office.setUp(request, headers['user-agent']));
    return { done: true };
  }

  @Post('session')
  @HttpCode(204)
  @Open()
  @Tells('nobody')
  async signInHere(
    @Body() request: SignInRequest,
    @Ip() client: string,
    @Req() { sessionToken, browserToken, headers }: SignedRequest,
    @Res({ passthrough: true }) response: Response,
  ): Promise<void> {
    response.setHeader(
      'Set-Cookie',
      await this.signIn.signIn(request.address, request.password, {
        client,
        browserToken,
        agent: headers['user-agent'],
      }),
    );
    // A session that was there before ends: a cookie somebody planted is worth nothing.
    if (sessionToken) await this.signIn.signOut(sessionToken);
  }

  @Delete('session')
  @HttpCode(204)
  @Open()
  @Tells('nobody')
  async signOut(
    @Req() request: SignedRequest,
    @Res({ passthrough: true }) response: Response,
  ): Promise<void> {
    response.setHeader('Set-Cookie', await this.signIn.signOut(request.sessionToken));
  }

  @Put('password')
  @HttpCode(204)
  @Tells('nobody')
  async password(
    @Body() request: PasswordRequest,
    @Req() { user, sessionToken, browserToken }: SignedRequest,
  ): Promise<void> {
    if (!user || !sessionToken) throw refuse('session-ended');
    await this.signIn.changePassword(
      user,
      sessionToken,
      browserToken,
      request.current,
      request.next,
    );
  }

  @Get('office')
  @Tells('nobody')
  async read(): Promise<OfficeReply> {
    return officeReply(await theOffice(this.database.db));
  }

  @Put('office')
  @May('settings')
  @Tells('nobody')
  async change(@Body() request: OfficeRequest): Promise<OfficeReply> {
    return officeReply(await this.office.change(request));
  }

  /** Work that was given up and waits for a word, or is still tried again but has failed for some time. */
  @Get('standstills')
  @Tells('nobody')
  async standstills(@Asking() viewer: Viewer): Promise<StandstillReply[]> {
    if (!seesEverybody(viewer.role)) return [];
    return (await stoppedWork(this.database.db)).map(
      ({ work, thing, what, reason, failures, nextAt, stoppedAt }) => ({
        work,
        thing,
        what,
        reason,
        failures,
        nextAt: stoppedAt ? null : (nextAt?.toISOString() ?? null),
      }),
    );
  }

  @Post('standstills/:work/:thing/:how')
  @HttpCode(204)
  @May('send')
  @Tells('nobody')
  async decide(
    @Param('work') work: string,
    @Param('thing', ParseIntPipe) thing: number,
    @Param('how') how: string,
  ): Promise<void> {
    if ((how !== 'again' && how !== 'leave') || !(await this.jobs.decide(work, thing, how)))
      throw notFound('standstill');
  }
}
