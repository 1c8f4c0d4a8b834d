// The office: first set-up, settings, accounts.
import { Inject, Injectable } from '@nestjs/common';
import type { OfficeRequest, SetUpRequest } from '@palabra/contract/office';
import { oneLine } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { Database, type Db } from '../platform/database.js';
import { conflict } from '../platform/refusals.js';
import { hashPassword, SignIn } from '../platform/sign-in/sign-in.js';
import { addUser } from '../platform/sign-in/sign-in.store.js';
import { CLOCK } from '../platform/time.js';
import { addressOf } from './accounts.service.js';
import * as store from './office.store.js';
import { refuse } from './office.refusals.js';

/** Postal addresses have lines; everything else is one. */
const lines = (text: string): string =>
  text
    .split(/\r?\n/)
    .map(oneLine)
    .filter((line) => line !== '')
    .join('\n');

@Injectable()
export class OfficeService {
  constructor(
    private readonly database: Database,
    private readonly signIn: SignIn,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  private readonly beginnings: ((tx: Db) => Promise<void>)[] = [];

  /** What a capability needs to be there from the first day on. */
  whenSetUp(begin: (tx: Db) => Promise<void>): void {
    this.beginnings.push(begin);
  }

  /** Makes the office and its first account; returns the cookies of the first session. */
  async setUp(request: SetUpRequest, agent: string | undefined): Promise<string[]> {
    const now = this.clock.now();
    const address = addressOf(request.address);
    const passwordHash = await hashPassword(request.password);
    const user = await this.database.transaction(async (tx) => {
      const made = await store.addOffice(tx, {
        name: oneLine(request.officeName),
        postalAddress: lines(request.postalAddress),
        timeZone: request.timeZone,
        country: request.country ?? '',
        senderName: oneLine(request.officeName),
        senderAddress: address.address,
        createdAt: now,
      });
      if (!made) throw refuse('set-up-already');
      for (const begin of this.beginnings) await begin(tx);
      return addUser(tx, {
        name: oneLine(request.name),
        address: address.address,
        addressKey: address.key,
        role: 'coordinator',
        passwordHash,
        createdAt: now,
      });
    });
    return this.signIn.open(user.id, { agent });
  }

  async change(request: OfficeRequest): Promise<store.Office> {
    const { version, ...values } = request;
    const changed = await store.changeOffice(this.database.db, version, {
      ...values,
      name: oneLine(values.name),
      postalAddress: lines(values.postalAddress),
      senderName: oneLine(values.senderName),
      senderAddress: addressOf(values.senderAddress).address,
    });
    if (!changed) throw conflict('page', await store.theOffice(this.database.db));
    return changed;
  }

  async ready(): Promise<boolean> {
    return store.answers(this.database.db);
  }
}
