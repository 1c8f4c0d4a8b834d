// Has returned mail read by a worker thread, with an end to its patience.
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { Keys, type TokenKey } from '../platform/keys.js';
import type { Envelope, ReadMessage } from './returned.reading.js';
import type { ToRead, WasRead } from './returned.worker.js';

const DEADLINE_MS = 4000;
const MEMORY_MB = 384;

/** A thread runs what was built, also where the rest is run from its sources. */
const WORKER = fileURLToPath(new URL('./returned.worker.js', import.meta.url)).replace(
  '/server/src/',
  '/server/dist/',
);

/** The message can't be read; trying it again would end the same way. */
export class Unreadable extends Error {}

/** It took too long, or too much: perhaps because of the machine, more likely because of the message. */
class Exhausted extends Unreadable {}

interface Waiting {
  readonly resolve: (message: ReadMessage) => void;
  readonly reject: (why: Error) => void;
}

/** A thread and whoever waits for it; one message at a time. */
class Reading {
  private readonly thread: Worker;
  private readonly ready: Promise<void>;
  private waiting: Waiting | undefined;
  private isGone = false;

  constructor(keys: readonly TokenKey[]) {
    this.thread = new Worker(WORKER, {
      workerData: { keys },
      resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
    });
    this.ready = new Promise((resolve) =>
      this.thread.on('message', (answer: WasRead | 'ready') => {
        if (answer === 'ready') resolve();
        else
          this.settle((one) =>
            'message' in answer
              ? one.resolve(answer.message)
              : one.reject(new Unreadable(answer.failed)),
          );
      }),
    );
    this.thread.on('error', (error) => this.end(new Exhausted(error.message)));
    this.thread.on('exit', () => this.end(new Exhausted('the thread that reads mail ended')));
  }

  /** Whether it still reads. */
  get isThere(): boolean {
    return !this.isGone;
  }

  private settle(how: (waiting: Waiting) => void): void {
    const { waiting } = this;
    this.waiting = undefined;
    if (waiting) how(waiting);
  }

  end(why: Error): void {
    this.isGone = true;
    this.settle(({ reject }) => reject(why));
    void this.thread.terminate();
  }

  async read(message: ToRead): Promise<ReadMessage> {
    let timer: NodeJS.Timeout | undefined;
    try {
      return await new Promise((resolve, reject) => {
        this.waiting = { resolve, reject };
        // A thread that is only just starting has all its time yet.
        void this.ready.then(() => {
          timer = setTimeout(
            () => this.end(new Exhausted(`it was not read within ${DEADLINE_MS / 1000} s`)),
            DEADLINE_MS,
          );
          this.thread.postMessage(message);
        });
      });
    } finally {
      clearTimeout(timer);
    }
  }
}

@Injectable()
export class ReturnedReader implements OnApplicationShutdown {
  private reading: Reading | undefined;
  private last: Promise<unknown> = Promise.resolve();

  constructor(private readonly keys: Keys) {}

  /** One message after another; rejects with `Unreadable` when it can't be parsed, or not in time. */
  read(raw: Uint8Array, envelope: Envelope): Promise<ReadMessage> {
    const message = { raw, envelope };
    const turn = this.last.then(async () => {
      try {
        return await this.fresh().read(message);
      } catch (error) {
        if (!(error instanceof Exhausted)) throw error;
        return this.fresh().read(message);
      }
    });
    this.last = turn.catch(() => undefined);
    return turn;
  }

  private fresh(): Reading {
    if (!this.reading?.isThere) this.reading = new Reading(this.keys.tokens);
    return this.reading;
  }

  onApplicationShutdown(): void {
    this.reading?.end(new Error('Palabra stops'));
  }
}
