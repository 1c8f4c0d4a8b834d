// One connection to a mail server, used for one letter after another. It says what became of each:
// answered, not taken (the server can't have it), or lost (nobody knows).
import { Readable } from 'node:stream';
import { isBeyondAscii } from '@palabra/core/contacts';
import { parseConnectionUrl } from 'nodemailer/lib/shared';
import { isThisMachine } from '../platform/hosts.js';
import SMTPConnection from 'nodemailer/lib/smtp-connection';

export type Outcome =
  | { readonly kind: 'answered'; readonly code: number; readonly text: string }
  /** The connection went before the whole message was read: it was not accepted. */
  | { readonly kind: 'not taken'; readonly why: string }
  /** The connection went after that: it may or may not have been. */
  | { readonly kind: 'lost'; readonly why: string };

interface SmtpError extends Error {
  readonly code?: string;
  readonly responseCode?: number;
  readonly response?: string;
}

/** A message as a stream that knows whether it was read to its end. */
class Message extends Readable {
  finished = false;

  constructor(private readonly contents: Buffer) {
    super();
  }

  override _read(): void {
    this.push(this.contents);
    this.push(null);
    this.finished = true;
  }
}

export class Lane {
  private connection: SMTPConnection | undefined;
  private takesUtf8 = false;

  constructor(
    private readonly url: string,
    /** How long the server may say nothing, in milliseconds. */
    private readonly timeout: number,
    /** Told with each new connection whether the server takes addresses beyond ASCII (RFC 6531). */
    private readonly offers: (takesUtf8: boolean) => void = () => undefined,
  ) {}

  /** Never rejects. */
  async send(from: string, to: string, contents: Buffer): Promise<Outcome> {
    let connection: SMTPConnection;
    try {
      connection = await this.open();
    } catch (error) {
      this.close();
      return { kind: 'not taken', why: reason(error) };
    }
    // A server that was not asked properly may refuse the address as if it were a dead one.
    if (isBeyondAscii(to) && !this.takesUtf8)
      return {
        kind: 'answered',
        code: 553,
        text: '553 5.6.7 The mail server takes no letters beyond ASCII in front of the @',
      };
    const message = new Message(contents);
    return new Promise((resolve) => {
      let settled = false;
      const end = (outcome: Outcome): void => {
        if (settled) return;
        settled = true;
        connection.removeListener('error', broken);
        connection.removeListener('end', broken);
        if (outcome.kind !== 'answered') this.close();
        resolve(outcome);
      };
      const broken = (error?: Error): void =>
        end(
          message.finished
            ? { kind: 'lost', why: reason(error) }
            : { kind: 'not taken', why: reason(error) },
        );
      connection.once('error', broken);
      connection.once('end', broken);
      connection.send({ from, to: [to] }, message, (error, info) => {
        if (!error)
          return end({
            kind: 'answered',
            code: Number(/^\d{3}/.exec(info.response)?.[0] ?? 250),
            text: info.response,
          });
        const { responseCode, response } = error as SmtpError;
        // 421 says that the server closes the connection, not what it did with the letter.
        if (!responseCode || responseCode === 421) return broken(error);
        connection.reset((failed) => {
          if (failed) this.close();
          end({ kind: 'answered', code: responseCode, text: response ?? '' });
        });
      });
    });
  }

  /** Only connects, to hear what the server offers. Rejects when it can’t be reached. */
  async greet(): Promise<void> {
    await this.open();
    this.close();
  }

  close(): void {
    const { connection } = this;
    this.connection = undefined;
    connection?.removeAllListeners();
    connection?.on('error', () => undefined);
    connection?.close();
  }

  private async open(): Promise<SMTPConnection> {
    if (this.connection) return this.connection;
    const { auth, ...options } = parseConnectionUrl(this.url) as {
      auth?: { user: string; pass: string };
      host?: string;
      port?: number;
      secure?: boolean;
    };
    // A name and a password never cross a network in the clear.
    const requireTLS = auth !== undefined && !isThisMachine(options.host ?? '');
    const connection = new SMTPConnection({
      ...options,
      requireTLS,
      connectionTimeout: 10_000,
      greetingTimeout: 10_000,
      socketTimeout: this.timeout,
    });
    await new Promise<void>((resolve, reject) => {
      connection.once('error', reject);
      connection.once('end', () => reject(new Error('the mail server closed the connection')));
      connection.connect(() => {
        // The last it said is what it offers: its answer to EHLO.
        this.takesUtf8 = /^250[ -]SMTPUTF8\b/im.test(connection.lastServerResponse || '');
        this.offers(this.takesUtf8);
        if (!auth) return resolve();
        connection.login({ credentials: auth }, (error) => (error ? reject(error) : resolve()));
      });
    });
    connection.removeAllListeners('error');
    connection.removeAllListeners('end');
    // Between letters the server may hang up; the next one opens a new connection.
    connection.on('error', () => (this.connection = undefined));
    connection.on('end', () => (this.connection = undefined));
    this.connection = connection;
    return connection;
  }
}

function reason(error: unknown): string {
  const { code, message } = (error ?? {}) as SmtpError;
  if (code === 'ESOCKET' || code === 'ECONNECTION' || code === 'ECONNREFUSED' || code === 'EDNS')
    return 'the mail server can’t be reached';
  if (code === 'ETIMEDOUT') return 'the mail server does not answer';
  if (code === 'ETLS')
    return 'the mail server offers no encryption, and our password is not sent without; name it with smtps://';
  if (code === 'EAUTH') return 'the mail server refuses our name and password';
  return message
    ? `the mail server: ${message.slice(0, 200)}`
    : 'the mail server closed the connection';
}
