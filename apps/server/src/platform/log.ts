// Structured logs without personal data: ids and counts, never names, addresses or bodies.
import { pino } from 'pino';

export const log = pino({ level: process.env['LOG_LEVEL'] ?? 'info', base: null });
