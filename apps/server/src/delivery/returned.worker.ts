// Reads returned mail, one message at a time, away from the thread that answers people.
import { parentPort, workerData } from 'node:worker_threads';
import { Keys, type TokenKey } from '../platform/keys.js';
import { readMessage, type Envelope, type ReadMessage } from './returned.reading.js';

export interface ToRead {
  readonly raw: Uint8Array;
  readonly envelope: Envelope;
}

export type WasRead = { readonly message: ReadMessage } | { readonly failed: string };

const verify = Keys.verifier((workerData as { readonly keys: readonly TokenKey[] }).keys);

parentPort?.on('message', ({ raw, envelope }: ToRead) => {
  readMessage(raw, envelope, verify).then(
    (message) => parentPort?.postMessage({ message } satisfies WasRead),
    (error: unknown) =>
      parentPort?.postMessage({
        failed: error instanceof Error ? error.message : String(error),
      } satisfies WasRead),
  );
});

parentPort?.postMessage('ready' as const);
