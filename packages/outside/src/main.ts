// Runs the outside as a process of its own.
import { startOutside } from './index.js';

const number = (name: string, fallback: number): number => {
  const value = Number(process.env[name] ?? fallback);
  return Number.isFinite(value) && value >= 0 ? value : fallback;
};

// Mailboxes are for the user who runs this.
process.umask(0o077);

const outside = startOutside({
  directory: process.env['OUTSIDE_DIR'] ?? '.palabra/outside',
  smtpPort: number('OUTSIDE_SMTP_PORT', 4625),
  webPort: number('OUTSIDE_WEB_PORT', 4680),
  seed: number('OUTSIDE_SEED', 7),
  meanDelay: number('OUTSIDE_DELAY', 15_000),
  returnsPort: number('RETURNS_PORT', 0),
  origin: new URL(process.env['PUBLIC_URL'] ?? 'http://localhost:4600').origin,
});

outside.then(
  ({ smtpPort, webPort }) => process.send?.({ ready: { smtpPort, webPort } }),
  (error: unknown) => {
    const { code, message } = error as NodeJS.ErrnoException;
    const text =
      code === 'EADDRINUSE'
        ? 'A port of the outside world (4625 for mail, 4680 for its pages) is taken. Stop what uses it, or set OUTSIDE_SMTP_PORT and OUTSIDE_WEB_PORT.'
        : message;
    if (process.send) process.send({ failed: text });
    else process.stderr.write(`${text}\n`);
    process.exit(1);
  },
);

const stop = (): void => {
  void outside.then((running) => running.stop()).finally(() => process.exit(0));
};
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
process.on('disconnect', stop);
