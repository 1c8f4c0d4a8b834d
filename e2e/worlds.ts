// One world per browser worker: a server with its data, and an outside of its own.
import { existsSync } from 'node:fs';

export interface World {
  readonly port: number;
  readonly origin: string;
  readonly outsideWeb: number;
  readonly outsideSmtp: number;
  readonly returns: number;
  readonly directory: string;
}

export const WORKERS = 2;

export const worldOf = (worker: number): World => ({
  port: 4710 + 100 * worker,
  origin: `http://localhost:${4710 + 100 * worker}`,
  outsideWeb: 4781 + 100 * worker,
  outsideSmtp: 4726 + 100 * worker,
  returns: 4727 + 100 * worker,
  directory: `.palabra/journeys-${worker}`,
});

/** The world of the worker that this runs in. */
export const world = worldOf(Number(process.env['TEST_PARALLEL_INDEX'] ?? 0));

/** Debian's Chromium: without windows where that is there, which takes less time; else the whole one. */
export const browser = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'].find(existsSync);
