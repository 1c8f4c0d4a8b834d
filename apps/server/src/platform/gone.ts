// Work that only one client waits for ends when that client goes away.
import type { Response } from 'express';

/** Aborted once the connection closes before the answer is out. */
export function untilGone(response: Response): AbortSignal {
  const controller = new AbortController();
  response.once('close', () => {
    if (!response.writableEnded) controller.abort();
  });
  return controller.signal;
}
