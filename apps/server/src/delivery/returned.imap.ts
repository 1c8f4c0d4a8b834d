// Where returned mail arrives in a mailbox: read every now and then by IMAP, left as it is.
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { urlOf } from '@palabra/core/kernel';
import { ImapFlow } from 'imapflow';
import type { Config } from '../platform/config.js';
import { Database, isPassing } from '../platform/database.js';
import { isThisMachine } from '../platform/hosts.js';
import { log, safeError } from '../platform/log.js';
import { CONFIG } from '../platform/time.js';
import { Unreadable } from './returned.reader.js';
import { ReturnedService } from './returned.service.js';
import { cursorOf, moveCursor } from './returned.store.js';

const MOST_BYTES = 5 * 1024 * 1024;

@Injectable()
export class ReturnedImap implements OnApplicationShutdown {
  private timer: NodeJS.Timeout | undefined;
  private reading: Promise<void> = Promise.resolve();
  private stopped = false;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly database: Database,
    private readonly returned: ReturnedService,
  ) {}

  start(): void {
    if (!this.config.imapUrl) return;
    const next = (): void => {
      this.reading = this.read()
        .catch((error: unknown) => {
          if (!this.stopped)
            log.warn(
              { error: safeError(error) },
              'the mailbox of returned letters could not be read',
            );
        })
        .finally(() => {
          if (!this.stopped) this.timer = setTimeout(next, this.config.imapEveryMs);
        });
    };
    next();
  }

  /** Reads what is new since the last time. The cursor moves only behind what is kept. */
  async read(): Promise<void> {
    const url = urlOf(this.config.imapUrl ?? '');
    if (!url) throw new Error('IMAP_URL is no address');
    const mailbox = decodeURIComponent(url.pathname.slice(1)) || 'INBOX';
    const isSecure = url.protocol === 'imaps:';
    const client = new ImapFlow({
      host: url.hostname,
      port: Number(url.port) || (isSecure ? 993 : 143),
      secure: isSecure,
      auth: { user: decodeURIComponent(url.username), pass: decodeURIComponent(url.password) },
      logger: false,
      // A name and a password never cross a network in the clear.
      ...(isSecure || isThisMachine(url.hostname) ? {} : { doSTARTTLS: true }),
      socketTimeout: 60_000,
    });
    client.on('error', () => undefined);
    await client.connect();
    try {
      const lock = await client.getMailboxLock(mailbox, { readOnly: true });
      try {
        const box = client.mailbox;
        if (!box) return;
        const { db } = this.database;
        const name = `${url.hostname}/${url.username}/${mailbox}`;
        const uidValidity = Number(box.uidValidity);
        const cursor = await cursorOf(db, name);
        let last = cursor?.uidValidity === uidValidity ? cursor.lastUid : 0;
        if (box.exists === 0) return;
        // “n:*” always names the last message, even when it is older than n.
        for await (const { uid, source } of client.fetch(
          `${last + 1}:*`,
          { uid: true, source: { maxLength: MOST_BYTES } },
          { uid: true },
        )) {
          if (this.stopped) return;
          if (uid <= last) continue;
          if (source) await this.takeOne(source);
          last = uid;
          await moveCursor(db, name, uidValidity, last);
        }
      } finally {
        lock.release();
      }
    } finally {
      await client.logout().catch(() => client.close());
    }
  }

  /** What can't be read is kept as that, so that what is behind it still arrives; only trouble that passes stops here. */
  private async takeOne(raw: Buffer): Promise<void> {
    try {
      await this.returned.take(raw, 'mailbox');
    } catch (error) {
      if (this.stopped || isPassing(error)) throw error;
      if (!(error instanceof Unreadable))
        log.error({ error: safeError(error) }, 'a message of the mailbox could not be taken');
      await this.returned.keepUnread(
        raw,
        'mailbox',
        error instanceof Unreadable ? error.message : 'it could not be taken',
      );
    }
  }

  async onApplicationShutdown(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.timer);
    await this.reading;
  }
}
