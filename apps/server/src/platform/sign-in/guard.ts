// Who is asking, and whether they may. Everything needs a session unless it is marked open, and says which
// people its answer speaks of.
import {
  applyDecorators,
  createParamDecorator,
  Inject,
  Injectable,
  SetMetadata,
  type CanActivate,
  type ExecutionContext,
} from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { ApiExtension, ApiOperation } from '@nestjs/swagger';
import { allowed, type Deed, type Viewer } from '@palabra/core/office';
import { parse } from 'cookie';
import type { NextFunction, Request, Response } from 'express';
import type { Config } from '../config.js';
import { Hosts } from '../hosts.js';
import { refuse } from '../refusals.js';
import { CONFIG } from '../time.js';
import { BROWSER_COOKIE, COOKIE, SignIn } from './sign-in.js';
import type { User } from './sign-in.store.js';

export type SignedRequest = Request & { user?: User; sessionToken?: string; browserToken?: string };

const OPEN = 'open';
const DEED = 'deed';

/**
 * Whom an answer speaks of. `nobody`: no person and no number of people. `own people`: only those the asker
 * may see, numbers included. `shared`: numbers of everybody behind segments and campaigns, which others
 * defined; never narrowed by what the asker sends.
 */
export type Whom = 'nobody' | 'own people' | 'shared';

// The marks of a handler, as the guard and the OpenAPI document read them.
/** Reached without a session. */
export const Open = (): MethodDecorator =>
  applyDecorators(SetMetadata(OPEN, true), ApiExtension('x-open', true));
/** Only for roles that may do this. */
export const May = (deed: Deed): MethodDecorator =>
  applyDecorators(
    SetMetadata(DEED, deed),
    ApiOperation({ description: `Only for who may: ${deed}.` }),
  );
/** Every handler says it; the server does not start with one that doesn't. */
export const Tells = (whom: Whom): MethodDecorator => ApiExtension('x-tells', whom);

const ended = () => refuse('session-ended');

export const Asking = createParamDecorator((_: unknown, context: ExecutionContext): Viewer => {
  const { user } = context.switchToHttp().getRequest<SignedRequest>();
  if (!user) throw ended();
  return { userId: user.id, role: user.role };
});

const READS: ReadonlySet<string> = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Looks who asks before anything of the request is read, and refuses what another site makes a browser send. */
@Injectable()
export class WhoAsks {
  private readonly hosts: Hosts;

  constructor(
    private readonly signIn: SignIn,
    @Inject(CONFIG) config: Config,
  ) {
    this.hosts = new Hosts(config.publicUrl);
  }

  readonly look = (request: SignedRequest, _response: Response, next: NextFunction): void => {
    if (!READS.has(request.method) && !this.isFromHere(request))
      return next(refuse('not-our-pages'));
    const cookies = parse(request.headers.cookie ?? '');
    request.browserToken = cookies[BROWSER_COOKIE];
    const token = cookies[COOKIE];
    this.signIn.user(token).then((user) => {
      if (user) Object.assign(request, { user, sessionToken: token });
      next();
    }, next);
  };

  readonly needSession = (request: SignedRequest, _response: Response, next: NextFunction): void =>
    next(request.user ? undefined : ended());

  /** Browsers send none of these from another site without asking first. */
  private isFromHere({ headers }: Request): boolean {
    const site = headers['sec-fetch-site'];
    if (site !== undefined && site !== 'same-origin' && site !== 'none') return false;
    if (headers.origin !== undefined && !this.hosts.isOwnOrigin(headers.origin, headers.host))
      return false;
    return headers['x-requested-by'] === 'palabra';
  }
}

@Injectable()
export class SignInGuard implements CanActivate {
  constructor(private readonly reflector: Reflector) {}

  canActivate(context: ExecutionContext): boolean {
    const { user } = context.switchToHttp().getRequest<SignedRequest>();
    const targets = [context.getHandler(), context.getClass()];
    if (!user && !this.reflector.getAllAndOverride<boolean | undefined>(OPEN, targets))
      throw ended();
    const deed = this.reflector.getAllAndOverride<Deed | undefined>(DEED, targets);
    if (deed && !(user && allowed(user.role, deed))) throw refuse('not-allowed', user?.role);
    return true;
  }
}
