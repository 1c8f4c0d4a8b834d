// Structured logs without personal data: ids and counts, never names, addresses or bodies.
import { pino } from 'pino';

export const log = pino({ level: process.env['LOG_LEVEL'] ?? 'info', base: null });

interface SafeError {
  readonly name: string;
  readonly code?: string;
  /** Where it happened; the text of database errors is left out, because it quotes statements and values. */
  readonly at?: string;
  readonly message?: string;
}

/** What of an error may stand in a log. */
export function safeError(error: unknown): SafeError {
  if (!(error instanceof Error)) return { name: typeof error };
  const codes: string[] = [];
  for (let one: unknown = error; one instanceof Error; one = one.cause) {
    const { code } = one as NodeJS.ErrnoException;
    if (code) codes.push(code);
  }
  const isDatabase =
    error.message.startsWith('Failed query') || codes.some((code) => /^[0-9A-Z]{5}$/.test(code));
  const frames = (error.stack ?? '').split('\n').filter((line) => line.startsWith('    at '));
  return {
    name: error.name,
    ...(codes[0] ? { code: codes[0] } : {}),
    ...(isDatabase ? {} : { message: error.message }),
    ...(frames.length > 0
      ? {
          at: frames
            .slice(0, 6)
            .map((line) => line.trim())
            .join(' < '),
        }
      : {}),
  };
}
