// The office's secrets: one for hashing addresses, some for signing. Made at first start, shared by all processes.
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { packBody, purposes, unpackBody, type Purpose, type TokenBody } from '@palabra/core/delivery';
import { asc } from 'drizzle-orm';
import type { Db } from './database.js';
import { officeKeys } from './keys.table.js';

/** 80 bits: forging one needs about 2^79 tries against a running server. */
const MAC_LENGTH = 10;

interface Key {
  readonly id: number;
  readonly secret: Buffer;
}

export class Keys {
  private constructor(
    private readonly addressSecret: Buffer,
    private readonly tokenKeys: readonly Key[],
  ) {}

  static async load(db: Db, now: Date): Promise<Keys> {
    let rows = await db.select().from(officeKeys).orderBy(asc(officeKeys.id));
    for (const purpose of ['address', 'token'] as const) {
      if (!rows.some((row) => row.purpose === purpose)) await db.insert(officeKeys).values({ purpose, secret: randomBytes(32), createdAt: now });
    }
    rows = await db.select().from(officeKeys).orderBy(asc(officeKeys.id));
    const address = rows.find(({ purpose }) => purpose === 'address');
    if (!address) throw new Error('the office has no key for addresses');
    return new Keys(
      address.secret,
      rows.filter(({ purpose }) => purpose === 'token').map(({ id, secret }) => ({ id, secret })),
    );
  }

  /** What stands for an address where the address itself must not: HMAC-SHA-256, 32 bytes. */
  addressHash(addressKey: string): Buffer {
    return createHmac('sha256', this.addressSecret).update(addressKey).digest();
  }

  /** Key id, purpose, body and MAC, as base64url. */
  sign(purpose: Purpose, body: TokenBody): string {
    const key = this.tokenKeys.at(-1);
    if (!key) throw new Error('the office has no key for signing');
    const payload = Buffer.concat([Buffer.from([key.id, purposes.indexOf(purpose)]), packBody(body)]);
    return Buffer.concat([payload, mac(key, payload)]).toString('base64url');
  }

  /** The body of a token that one of the office's keys signed for this purpose, or undefined. */
  verify(purpose: Purpose, token: string): TokenBody | undefined {
    if (!/^[\w-]{10,60}$/.test(token)) return undefined;
    const bytes = Buffer.from(token, 'base64url');
    if (bytes.length < MAC_LENGTH + 5) return undefined;
    const payload = bytes.subarray(0, -MAC_LENGTH);
    const key = this.tokenKeys.find(({ id }) => id === payload[0]);
    if (!key || payload[1] !== purposes.indexOf(purpose)) return undefined;
    return timingSafeEqual(mac(key, payload), bytes.subarray(-MAC_LENGTH)) ? unpackBody(payload.subarray(2)) : undefined;
  }
}

const mac = (key: Key, payload: Buffer): Buffer => createHmac('sha256', key.secret).update(payload).digest().subarray(0, MAC_LENGTH);
