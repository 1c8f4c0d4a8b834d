// The mail server of the outside: takes letters for reserved domains only, and knows which mailboxes are dead or full.
import { SMTPServer, type SMTPServerDataStream } from 'smtp-server';
import { habitsOf } from './habits.js';
import type { Mailboxes } from './mailboxes.js';
import type { Readers } from './readers.js';

/** RFC 2606 and RFC 6761: names that belong to nobody. */
const RESERVED = /@(?:[^@]+\.)?(?:example\.(?:com|org|net)|test|example|invalid|localhost)$/i;
const MAX_BYTES = 20 * 1024 * 1024;

interface Refusal extends Error {
  responseCode: number;
}

const refuse = (code: number, text: string): Refusal =>
  Object.assign(new Error(text), { responseCode: code });

function readAll(stream: SMTPServerDataStream): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = [];
    stream.on('data', (chunk: Buffer) => chunks.push(chunk));
    stream.on('end', () => resolve(Buffer.concat(chunks)));
    stream.on('error', reject);
  });
}

export function smtpServer(mailboxes: Mailboxes, readers: Readers, seed: number): SMTPServer {
  /** Addresses that were put off once and will be taken the next time. */
  const putOff = new Set<string>();
  const server = new SMTPServer({
    banner: 'the outside takes letters for made-up people only',
    disabledCommands: ['AUTH', 'STARTTLS'],
    size: MAX_BYTES,
    logger: false,
    onRcptTo({ address }, _session, done) {
      const habits = habitsOf(address, seed);
      const key = address.toLowerCase();
      if (!RESERVED.test(address))
        return done(refuse(550, '5.7.1 This server takes letters for reserved domains only'));
      if (habits.dead) return done(refuse(550, '5.1.1 There is no mailbox of that name here'));
      if (habits.full && !putOff.has(key)) {
        putOff.add(key);
        return done(refuse(452, '4.2.2 The mailbox is full, try again later'));
      }
      putOff.delete(key);
      done();
    },
    onData(stream, session, done) {
      readAll(stream).then((raw) => {
        if (stream.sizeExceeded) return done(refuse(552, '5.3.4 The letter is too large'));
        const from = session.envelope.mailFrom ? session.envelope.mailFrom.address : '';
        for (const { address } of session.envelope.rcptTo)
          readers.received(mailboxes.keep(from, address, raw), raw);
        done(null, '2.0.0 OK: taken');
      }, done);
    },
  });
  server.on('error', () => undefined);
  return server;
}
