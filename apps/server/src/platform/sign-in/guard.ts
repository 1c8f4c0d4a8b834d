// Who is asking, and whether they may. Everything needs a session unless it is marked open.
import { createParamDecorator, Injectable, SetMetadata, type CanActivate, type ExecutionContext } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { allowed, type Deed, type UserId, type Viewer } from '@palabra/core/office';
import { parse } from 'cookie';
import type { Request } from 'express';
import { Problem } from '../problem.js';
import { COOKIE, SignIn } from './sign-in.js';
import type { User } from './sign-in.store.js';

export type SignedRequest = Request & { user?: User; sessionToken?: string };

const OPEN = 'open';
const DEED = 'deed';

/** Reached without a session. */
export const Open = (): MethodDecorator & ClassDecorator => SetMetadata(OPEN, true);
/** Only for roles that may do this. */
export const May = (deed: Deed): MethodDecorator & ClassDecorator => SetMetadata(DEED, deed);

/** What the two marks above say of a handler, for the documentation. */
export const isOpen = (...targets: readonly object[]): boolean => targets.some((target) => Reflect.getMetadata(OPEN, target) === true);
export const mayDo = (...targets: readonly object[]): Deed | undefined => targets.map((target) => Reflect.getMetadata(DEED, target) as Deed | undefined).find((deed) => deed !== undefined);

export const Asking = createParamDecorator((_: unknown, context: ExecutionContext): Viewer => {
  const { user } = context.switchToHttp().getRequest<SignedRequest>();
  if (!user) throw new Problem(401, 'Your session has ended. Sign in again; what you typed is still here.');
  return { userId: user.id as UserId, role: user.role };
});

/** Browsers send neither of these from another site without asking first. */
function fromHere(request: Request): boolean {
  const site = request.headers['sec-fetch-site'];
  if (site !== undefined && site !== 'same-origin' && site !== 'none') return false;
  const { origin } = request.headers;
  if (origin !== undefined && URL.canParse(origin) && new URL(origin).host !== request.headers.host) return false;
  return request.headers['x-requested-by'] === 'palabra';
}

@Injectable()
export class SignInGuard implements CanActivate {
  constructor(
    private readonly reflector: Reflector,
    private readonly signIn: SignIn,
  ) {}

  async canActivate(context: ExecutionContext): Promise<boolean> {
    const request = context.switchToHttp().getRequest<SignedRequest>();
    const targets = [context.getHandler(), context.getClass()];
    if (!['GET', 'HEAD', 'OPTIONS'].includes(request.method) && !fromHere(request)) {
      throw new Problem(403, 'This request did not come from Palabra’s own pages.');
    }
    const token = parse(request.headers.cookie ?? '')[COOKIE];
    const user = await this.signIn.user(token);
    if (user) {
      request.user = user;
      request.sessionToken = token;
    } else if (!this.reflector.getAllAndOverride<boolean | undefined>(OPEN, targets)) {
      throw new Problem(401, 'Your session has ended. Sign in again; what you typed is still here.');
    }
    const deed = this.reflector.getAllAndOverride<Deed | undefined>(DEED, targets);
    if (deed && user && !allowed(user.role, deed)) throw new Problem(403, `As ${user.role} you may not do that; a coordinator can.`);
    return true;
  }
}
