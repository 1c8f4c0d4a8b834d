// The outside world that ships for trial and tests.
import type { AddressInfo } from 'node:net';
import { Mailboxes } from './mailboxes.js';
import { pageServer } from './pages.js';
import { Readers } from './readers.js';
import { createTransport } from 'nodemailer';
import type { Answer } from './answers.js';
import { smtpServer } from './smtp.js';

export { habitsOf, type Habits } from './habits.js';
export { linksIn } from './readers.js';

export interface OutsideOptions {
  readonly directory: string;
  readonly smtpPort: number;
  readonly webPort: number;
  readonly seed: number;
  readonly meanDelay: number;
  /** Where the sender's application is reached. */
  readonly origin: string;
  /** Port of the sender's own mail server on this machine, for what comes back. */
  readonly returnsPort?: number;
}

export interface Outside {
  readonly smtpPort: number;
  readonly webPort: number;
  stop(): Promise<void>;
}

const courier =
  (port: number) =>
  async ({ to, raw }: Answer): Promise<void> => {
    await createTransport({ host: '127.0.0.1', port, ignoreTLS: true }).sendMail({
      envelope: { from: '', to: [to] },
      raw,
    });
  };

export async function startOutside(options: OutsideOptions): Promise<Outside> {
  const mailboxes = new Mailboxes(options.directory);
  const readers = new Readers({
    ...options,
    ...(options.returnsPort ? { answer: courier(options.returnsPort) } : {}),
  });
  const smtp = smtpServer(mailboxes, readers, options.seed);
  const web = pageServer(mailboxes);
  const listen = (
    start: (done: () => void) => void,
    server: { once(event: 'error', fail: (error: Error) => void): unknown },
  ): Promise<void> =>
    new Promise((resolve, reject) => {
      server.once('error', reject);
      start(resolve);
    });
  await listen((done) => smtp.listen(options.smtpPort, '127.0.0.1', done), smtp.server);
  await listen((done) => web.listen(options.webPort, '127.0.0.1', done), web);
  return {
    smtpPort: (smtp.server.address() as AddressInfo).port,
    webPort: (web.address() as AddressInfo).port,
    stop: async () => {
      readers.stop();
      await new Promise<void>((resolve) => smtp.close(() => resolve()));
      web.closeAllConnections();
      await new Promise<void>((resolve) => web.close(() => resolve()));
      mailboxes.close();
    },
  };
}
