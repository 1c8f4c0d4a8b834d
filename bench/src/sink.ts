// A mail server that takes everything and keeps nothing.
import { SMTPServer } from 'smtp-server';

const server = new SMTPServer({
  disabledCommands: ['AUTH', 'STARTTLS'],
  logger: false,
  onData: (stream, _session, done) => {
    stream.resume();
    stream.on('end', () => done(null, 'taken'));
  },
});
server.on('error', () => undefined);
server.listen(0, '127.0.0.1', () =>
  process.send?.((server.server.address() as { port: number }).port),
);
process.on('disconnect', () => process.exit(0));
