// Where returned mail arrives by SMTP: only for addresses that stand in our own letters.
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { SMTPServer, type SMTPServerDataStream } from 'smtp-server';
import type { Config } from '../platform/config.js';
import { Keys } from '../platform/keys.js';
import { log, safeError } from '../platform/log.js';
import { CONFIG } from '../platform/time.js';
import { Unreadable } from './returned.reader.js';
import { ReturnedService } from './returned.service.js';

const MOST_BYTES = 10 * 1024 * 1024;

const refusal = (code: number, text: string): Error =>
  Object.assign(new Error(text), { responseCode: code });

/** Reads a message to its end; undefined when it is too large. */
async function readAll(stream: SMTPServerDataStream): Promise<Buffer | undefined> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of stream as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size <= MOST_BYTES) chunks.push(chunk);
  }
  return size > MOST_BYTES ? undefined : Buffer.concat(chunks);
}

@Injectable()
export class ReturnedSmtp implements OnApplicationShutdown {
  private server: SMTPServer | undefined;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly keys: Keys,
    private readonly returned: ReturnedService,
  ) {}

  /** `bounce+TOKEN@…` and `leave+TOKEN@…` with a token of ours. */
  private isOurs(address: string): boolean {
    const [, word, token = ''] = /^(bounce|leave)\+([\w-]+)@/i.exec(address) ?? [];
    return (
      word !== undefined &&
      this.keys.verify(word.toLowerCase() === 'leave' ? 'leave' : 'bounce', token) !== undefined
    );
  }

  /** Listens where the configuration says; resolves with the port, or undefined when it says nothing. */
  async start(): Promise<number | undefined> {
    const { returnsPort, host } = this.config;
    if (returnsPort === undefined) return undefined;
    const server = new SMTPServer({
      disabledCommands: ['AUTH', 'STARTTLS'],
      banner: 'returned letters only',
      size: MOST_BYTES,
      logger: false,
      maxClients: 50,
      socketTimeout: 60_000,
      onRcptTo: ({ address }, _session, done) =>
        done(
          this.isOurs(address)
            ? undefined
            : refusal(550, '5.1.1 There is no mailbox of that name here'),
        ),
      onData: (stream, session, done) => {
        readAll(stream)
          .then(async (raw) => {
            if (!raw) return done(refusal(552, '5.3.4 The message is too large'));
            await this.returned.take(raw, 'smtp', {
              from: session.envelope.mailFrom ? session.envelope.mailFrom.address : '',
              to: session.envelope.rcptTo.map(({ address }) => address),
            });
            done(null, '2.0.0 OK: taken');
          })
          .catch((error: unknown) => {
            if (error instanceof Unreadable)
              return done(refusal(554, '5.6.0 The message can’t be read'));
            log.warn({ error: safeError(error) }, 'a returned message could not be kept yet');
            done(refusal(451, '4.3.0 Try again later'));
          });
      },
    });
    this.server = server;
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject);
      server.listen(returnsPort, host, () => resolve());
    });
    server.removeAllListeners('error');
    server.on('error', () => undefined);
    return (server.server.address() as { port: number }).port;
  }

  async onApplicationShutdown(): Promise<void> {
    const { server } = this;
    if (server) await new Promise<void>((resolve) => server.close(() => resolve()));
  }
}
