// Who works here: colleagues with and without a sign-in, what they may do, and how they come in.
import { Inject, Injectable } from '@nestjs/common';
import type {
  AccountRequest,
  EntryReply,
  LinkReply,
  OwnAccountRequest,
} from '@palabra/contract/office';
import { oneLine, parsePlainAddress } from '@palabra/core/contacts';
import { accountState, type UserId } from '@palabra/core/office';
import type { Clock } from '@palabra/core/kernel';
import type { Config } from '../platform/config.js';
import { Database, type Db } from '../platform/database.js';
import { notFound, refuse as refuseAny } from '../platform/refusals.js';
import { shortName, SignIn } from '../platform/sign-in/sign-in.js';
import * as users from '../platform/sign-in/sign-in.store.js';
import { DAY, mayTry, MINUTE, type Limit } from '../platform/throttle.store.js';
import { CLOCK, CONFIG } from '../platform/time.js';
import { refuse } from './office.refusals.js';
import { theOffice } from './office.store.js';

/** Mails a link for a password, in the caller's transaction; without an address all is done as with one, and nothing is sent. */
export type LinkMailer = (
  tx: Db,
  kind: 'invitation' | 'new password',
  address: string | null,
  facts: { readonly url: string },
) => Promise<void>;

/** How long a link works: made by a coordinator, and asked for at the sign-in. */
const INVITED_MS = 7 * DAY;
const FORGOTTEN_MS = 60 * MINUTE;
const FORGOTTEN: Limit = { most: 5, windowMs: 60 * MINUTE };

export const stateOf = ({ address, passwordHash, closedAt }: users.Colleague) =>
  accountState({ address, hasPassword: passwordHash !== null, isClosed: closedAt !== null });

@Injectable()
export class AccountsService {
  private mailer: LinkMailer | undefined;

  constructor(
    private readonly database: Database,
    private readonly signIn: SignIn,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  /** Whoever sends the office's mails. */
  mailLinksBy(mailer: LinkMailer): void {
    this.mailer = mailer;
  }

  async add(request: AccountRequest): Promise<users.Colleague> {
    const { db } = this.database;
    const values = await this.valuesOf(db, request);
    return users.addUser(db, { ...values, createdAt: this.clock.now() });
  }

  async change(id: UserId, request: AccountRequest): Promise<users.Colleague> {
    return this.database.transaction(async (tx) => {
      const { all, one } = await this.locked(tx, id);
      if (one.role === 'coordinator' && request.role !== 'coordinator') needAnother(all, id);
      const values = await this.valuesOf(tx, request, id);
      // Who has no address any more can't come in, and a link to the old one is void.
      if (values.addressKey !== one.addressKey) await users.dropEntryLinks(tx, id);
      if (values.address === null) {
        if (one.role === 'coordinator') needAnother(all, id);
        await users.endAllSessions(tx, id);
      }
      return this.written(await users.changeUser(tx, id, values));
    });
  }

  /** One's own name and address; another address needs the password. */
  async changeOwn(user: users.User, request: OwnAccountRequest): Promise<users.Colleague> {
    const address = addressOf(request.address);
    if (address.key !== user.addressKey)
      await this.signIn.needPassword(user, request.password, 'password');
    return this.database.transaction(async (tx) => {
      const values = await this.valuesOf(tx, { ...request, role: user.role }, user.id);
      // A link that was mailed to the old address is void.
      if (values.addressKey !== user.addressKey) await users.dropEntryLinks(tx, user.id);
      return this.written(await users.changeUser(tx, user.id, values));
    });
  }

  async close(id: UserId, self: UserId): Promise<void> {
    if (id === self) throw refuse('not-oneself');
    await this.database.transaction(async (tx) => {
      const { all, one } = await this.locked(tx, id);
      if (one.role === 'coordinator') needAnother(all, id);
      await users.changeUser(tx, id, { closedAt: one.closedAt ?? this.clock.now() });
      await users.endAllSessions(tx, id);
      await users.dropEntryLinks(tx, id);
    });
  }

  async open(id: UserId): Promise<void> {
    if (!(await users.changeUser(this.database.db, id, { closedAt: null })))
      throw notFound('account');
  }

  async welcomed(id: UserId): Promise<void> {
    await users.changeUser(this.database.db, id, { welcomedAt: this.clock.now() });
  }

  /** A link with which somebody chooses a password; whoever has it can sign in as them. */
  async link(id: UserId, mail: boolean): Promise<LinkReply> {
    return this.database.transaction(async (tx) => {
      const { one } = await this.locked(tx, id);
      const state = stateOf(one);
      if (state === 'closed' || one.address === null) throw refuse('never-signs-in');
      const { token, until } = await this.signIn.makeLink(tx, id, INVITED_MS);
      const link = this.url(token);
      if (mail)
        await this.mailer?.(tx, state === 'active' ? 'new password' : 'invitation', one.address, {
          url: link,
        });
      return { link, until: until.toISOString() };
    });
  }

  /** Takes as long, and says as much, whether there is such an account or not. */
  async forgotten(text: string, client: string): Promise<void> {
    const { db } = this.database;
    const parsed = parsePlainAddress(text);
    const about = parsed.ok ? parsed.value.key : '';
    const now = this.clock.now();
    for (const subject of [`forgotten ${client}`, `forgotten at ${shortName(about)}`])
      if (!(await mayTry(db, subject, FORGOTTEN, now))) throw refuseAny('too-many-tries');
    const user = parsed.ok ? await users.userByAddress(db, parsed.value.key) : undefined;
    await this.database.transaction(async (tx) => {
      const { token } = user
        ? await this.signIn.makeLink(tx, user.id, FORGOTTEN_MS)
        : { token: '' };
      await this.mailer?.(tx, 'new password', user?.address ?? null, { url: this.url(token) });
    });
  }

  async entry(token: string): Promise<EntryReply> {
    const user = await this.signIn.userOfLink(token);
    if (!user) throw refuseAny('link-used');
    return {
      office: (await theOffice(this.database.db)).name,
      name: user.name,
      address: user.address,
      isFirst: user.passwordHash === null,
    };
  }

  private url(token: string): string {
    return `${this.config.publicUrl}/enter/${token}`;
  }

  private async locked(
    tx: Db,
    id: UserId,
  ): Promise<{ all: readonly users.Colleague[]; one: users.Colleague }> {
    const all = await users.lockUsers(tx);
    const one = all.find((user) => user.id === id);
    if (!one) throw notFound('account');
    return { all, one };
  }

  private async valuesOf(
    db: Db,
    { name, address, role }: AccountRequest,
    self?: UserId,
  ): Promise<Pick<users.Colleague, 'name' | 'role' | 'address' | 'addressKey'>> {
    const read = address === '' ? undefined : addressOf(address);
    if (read && (await users.isTaken(db, read.key, self))) throw refuse('address-in-use');
    return {
      name: oneLine(name),
      role,
      address: read?.address ?? null,
      addressKey: read?.key ?? null,
    };
  }

  private written(changed: users.Colleague | undefined): users.Colleague {
    if (!changed) throw notFound('account');
    return changed;
  }
}

export function addressOf(text: string): { address: string; key: string } {
  const parsed = parsePlainAddress(text);
  if (!parsed.ok) throw refuse('no-address');
  return parsed.value;
}

/** An office without a coordinator who comes in could never get one again. */
function needAnother(all: readonly users.Colleague[], without: UserId): void {
  const rest = all.filter(
    (user) => user.id !== without && user.role === 'coordinator' && stateOf(user) === 'active',
  );
  if (rest.length === 0) throw refuse('last-coordinator');
}
