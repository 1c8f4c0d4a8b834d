// Starts the application as the environment says. One clear sentence when that can't be done.
import { keepToOneself } from '@palabra/embedded-postgres';
import { ConfigError, readConfig } from './platform/config.js';
import { openDatabase } from './platform/database.js';
import { log, safeError } from './platform/log.js';
import { startServer } from './server.js';

function sentence(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException;
  if (code === 'EADDRINUSE') {
    const returns = process.env['RETURNS_PORT'];
    if (returns && String((error as { port?: number }).port) === returns)
      return `Port ${returns}, where returned letters arrive, is taken. Stop what uses it, or choose another: RETURNS_PORT=4726.`;
    return `Port ${process.env['PORT'] ?? 4600} is taken. Stop what uses it, or choose another: PORT=4700.`;
  }
  if (code === 'EACCES' || code === 'EROFS')
    return `The data directory can’t be written: ${message}. Give it to this user, or name another with DATA_DIR.`;
  return message;
}

async function main(): Promise<void> {
  keepToOneself();
  const config = readConfig(process.env);
  const database = await openDatabase(config);
  if (config.demo !== undefined) {
    const { makeDemo } = await import('./demo/index.js');
    await makeDemo(database, config, (text) => process.send?.({ progress: text }));
  }
  const server = await startServer(config, database).catch(async (error: unknown) => {
    await database.close();
    throw error;
  });
  log.info({ port: server.port }, 'ready');
  if (process.send) process.send({ ready: server.port, setUpCode: server.setUpCode });
  else if (server.setUpCode)
    process.stdout.write(
      `The office is not set up yet. The first visit asks for this code: ${server.setUpCode}\n`,
    );

  let stopping = false;
  const stop = (): void => {
    if (stopping) return;
    stopping = true;
    server.close().then(
      () => process.exit(0),
      () => process.exit(1),
    );
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  process.on('disconnect', stop);
}

process.on('unhandledRejection', (error) => log.error({ error: safeError(error) }, 'unhandled'));

main().catch((error: unknown) => {
  const text = error instanceof ConfigError ? error.message : sentence(error);
  if (process.send) process.send({ failed: text });
  else process.stderr.write(`${text}\n`);
  process.exit(1);
});
