// The office's secrets: one for hashing addresses, some for signing. Made at first start, shared by all processes.
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import {
  packBody,
  purposes,
  unpackBody,
  type Purpose,
  type TokenBody,
} from '@palabra/core/delivery';
import { asc } from 'drizzle-orm';
import type { Db } from './database.js';
import { officeKeys } from './keys.table.js';

/** 80 bits: forging one needs about 2^79 tries against a running server. */
const MAC_LENGTH = 10;

/** Digits and letters that nobody mistakes for one another. */
const CODE_SIGNS = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';

/** A key that signs what stands in letters; a thread that only checks gets these and nothing else. */
export interface TokenKey {
  readonly id: number;
  readonly secret: Uint8Array;
}

/** So many hashes are kept at hand. */
const LATELY = 4096;

export class Keys {
  private constructor(
    private readonly addressSecret: Buffer,
    readonly tokens: readonly TokenKey[],
  ) {}

  static async load(db: Db, now: Date): Promise<Keys> {
    let rows = await db.select().from(officeKeys).orderBy(asc(officeKeys.id));
    for (const purpose of ['address', 'token'] as const) {
      if (!rows.some((row) => row.purpose === purpose))
        await db.insert(officeKeys).values({ purpose, secret: randomBytes(32), createdAt: now });
    }
    rows = await db.select().from(officeKeys).orderBy(asc(officeKeys.id));
    const address = rows.find(({ purpose }) => purpose === 'address');
    if (!address) throw new Error('the office has no key for addresses');
    return new Keys(
      address.secret,
      rows.filter(({ purpose }) => purpose === 'token').map(({ id, secret }) => ({ id, secret })),
    );
  }

  /** What whoever starts the program reads and types at the first visit: 40 bits, the same on every start. */
  setUpCode(): string {
    const [key] = this.tokens;
    if (!key) throw new Error('the office has no key for signing');
    const bits = createHmac('sha256', key.secret).update('set-up code').digest();
    const signs = [...bits.subarray(0, 8)]
      .map((byte) => CODE_SIGNS[byte % CODE_SIGNS.length])
      .join('');
    return `${signs.slice(0, 4)}-${signs.slice(4)}`;
  }

  isSetUpCode(typed: string): boolean {
    const plain = (text: string): Buffer =>
      createHmac('sha256', 'code')
        .update(
          text
            .toUpperCase()
            .replaceAll('O', '0')
            .replace(/[IL]/g, '1')
            .replace(/[^0-9A-Z]/g, ''),
        )
        .digest();
    return timingSafeEqual(plain(typed), plain(this.setUpCode()));
  }

  /** What stands for a purpose, or for what is said with it: the same on every start, no other office's, and made by nobody else; 96 bits. */
  mark(purpose: string): string {
    return createHmac('sha256', this.addressSecret)
      .update(`mark: ${purpose}`)
      .digest('hex')
      .slice(0, 24);
  }

  /** What stands for an address where the address itself must not: HMAC-SHA-256, 32 bytes. */
  addressHash(addressKey: string): Buffer {
    const known = this.lately.get(addressKey);
    if (known) return known;
    const hash = createHmac('sha256', this.addressSecret).update(addressKey).digest();
    if (this.lately.size >= LATELY) this.lately.clear();
    this.lately.set(addressKey, hash);
    return hash;
  }

  /** Whoever brings thousands asks for each several times in a row. */
  private readonly lately = new Map<string, Buffer>();

  /** Key id, purpose, body and MAC, as base64url. */
  sign(purpose: Purpose, body: TokenBody): string {
    const key = this.tokens.at(-1);
    if (!key) throw new Error('the office has no key for signing');
    const payload = Buffer.concat([
      Buffer.from([key.id, purposes.indexOf(purpose)]),
      packBody(body),
    ]);
    return Buffer.concat([payload, mac(key, payload)]).toString('base64url');
  }

  /** The body of a token that one of the office's keys signed for this purpose, or undefined. */
  verify(purpose: Purpose, token: string): TokenBody | undefined {
    return verify(this.tokens, purpose, token);
  }

  static verifier(
    tokens: readonly TokenKey[],
  ): (purpose: Purpose, token: string) => TokenBody | undefined {
    return (purpose, token) => verify(tokens, purpose, token);
  }
}

function verify(
  tokens: readonly TokenKey[],
  purpose: Purpose,
  token: string,
): TokenBody | undefined {
  if (!/^[\w-]{10,60}$/.test(token)) return undefined;
  const bytes = Buffer.from(token, 'base64url');
  if (bytes.length < MAC_LENGTH + 5) return undefined;
  const payload = bytes.subarray(0, -MAC_LENGTH);
  const key = tokens.find(({ id }) => id === payload[0]);
  if (!key || payload[1] !== purposes.indexOf(purpose)) return undefined;
  return timingSafeEqual(mac(key, payload), bytes.subarray(-MAC_LENGTH))
    ? unpackBody(payload.subarray(2))
    : undefined;
}

const mac = (key: TokenKey, payload: Buffer): Buffer =>
  createHmac('sha256', key.secret).update(payload).digest().subarray(0, MAC_LENGTH);
