// A mail server for tests that keeps every message and behaves as it is told.
import type { AddressInfo } from 'node:net';
import { SMTPServer } from 'smtp-server';

export interface Taken {
  readonly to: string;
  readonly from: string;
  readonly raw: string;
}

export interface TestMailServer {
  readonly url: string;
  readonly taken: Taken[];
  /**
   * What to answer to a recipient, asked once at RCPT and once at DATA; undefined takes the letter. `hang up`
   * closes in the middle of DATA, `hang up after` before the answer, `close after` behind it, `stall` never answers.
   */
  answer: (
    to: string,
    attempt: number,
  ) =>
    | { readonly code: number; readonly text: string }
    | 'hang up'
    | 'hang up after'
    | 'close after'
    | 'stall'
    | undefined;
  /** Milliseconds each letter takes. */
  delay: number;
  /** Forgets what it took and takes everything at once again. */
  reset(): void;
  stop(): Promise<void>;
}

export async function startMailServer(
  offers: { readonly hideSMTPUTF8?: boolean } = {},
): Promise<TestMailServer> {
  const attempts = new Map<string, number>();
  const taken: Taken[] = [];
  const mail: { -readonly [K in keyof TestMailServer]: TestMailServer[K] } = {
    url: '',
    taken,
    answer: () => undefined,
    delay: 0,
    reset: () => undefined,
    stop: async () => undefined,
  };
  const hangUp = (id: string): void => {
    const { connections } = server as unknown as {
      connections: Set<{ session: { id: string }; _socket: { destroy(): void } }>;
    };
    for (const connection of connections)
      if (connection.session.id === id) connection._socket.destroy();
  };
  const server = new SMTPServer({
    ...offers,
    disabledCommands: ['AUTH', 'STARTTLS'],
    logger: false,
    onRcptTo({ address }, _session, done) {
      const attempt = (attempts.get(address) ?? 0) + 1;
      attempts.set(address, attempt);
      const answer = mail.answer(address, attempt);
      if (answer && typeof answer === 'object')
        return done(Object.assign(new Error(answer.text), { responseCode: answer.code }));
      done();
    },
    onData(stream, session, done) {
      const to = session.envelope.rcptTo[0]?.address ?? '';
      const answer = mail.answer(to, attempts.get(to) ?? 1);
      const chunks: Buffer[] = [];
      if (answer === 'hang up') {
        hangUp(session.id);
        stream.resume();
        return;
      }
      stream.on('data', (chunk: Buffer) => chunks.push(chunk));
      stream.on('end', () => {
        setTimeout(() => {
          taken.push({
            to,
            from: session.envelope.mailFrom ? session.envelope.mailFrom.address : '',
            raw: Buffer.concat(chunks).toString('utf8'),
          });
          if (answer === 'stall') return;
          if (answer === 'close after') setTimeout(() => hangUp(session.id), 1);
          if (answer === 'hang up after') {
            hangUp(session.id);
            return;
          }
          done(null, '2.0.0 OK: taken');
        }, mail.delay);
      });
    },
  });
  server.on('error', () => undefined);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()));
  mail.url = `smtp://127.0.0.1:${(server.server.address() as AddressInfo).port}`;
  mail.reset = () => {
    taken.length = 0;
    mail.answer = () => undefined;
    mail.delay = 0;
  };
  mail.stop = () => new Promise((resolve) => server.close(() => resolve()));
  return mail;
}
