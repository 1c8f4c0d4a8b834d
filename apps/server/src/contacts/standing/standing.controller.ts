import type { ContactId } from '@palabra/core/contacts';
import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post } from '@nestjs/common';
import { DoNotMailRequest, type PermissionLine } from '@palabra/contract/contacts';
import type { Viewer } from '@palabra/core/office';
import { Asking, May, Tells } from '../../platform/sign-in/guard.js';
import { StandingService } from './standing.service.js';

@Controller('api')
export class StandingController {
  constructor(private readonly standing: StandingService) {}

  @Post('people/:id/do-not-mail')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  doNotMail(
    @Param('id', ParseIntPipe) id: ContactId,
    @Body() request: DoNotMailRequest,
    @Asking() viewer: Viewer,
  ): Promise<void> {
    return this.standing.setDoNotMail(id, request, viewer);
  }

  /** What somebody agreed to over time, latest first. */
  @Get('people/:id/permissions')
  @Tells('own people')
  permissions(
    @Param('id', ParseIntPipe) id: ContactId,
    @Asking() viewer: Viewer,
  ): Promise<PermissionLine[]> {
    return this.standing.permissions(id, viewer);
  }

  @Post('people/:id/try-again')
  @HttpCode(204)
  @May('change people')
  @Tells('own people')
  tryAgain(@Param('id', ParseIntPipe) id: ContactId, @Asking() viewer: Viewer): Promise<void> {
    return this.standing.tryAgain(id, viewer);
  }
}
