// Has returned mail read by a worker thread, with an end to its patience.
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { Keys, type TokenKey } from '../platform/keys.js';
import type { ReadMessage } from './returned.reading.js';
import type { ToRead, WasRead } from './returned.worker.js';

const DEADLINE_MS = 3000;
const MEMORY_MB = 384;

/** A thread runs what was built, also where the rest is run from its sources. */
const WORKER = fileURLToPath(new URL('./returned.worker.js', import.meta.url)).replace('/server/src/', '/server/dist/');

/** The message can't be read; trying it again would end the same way. */
export class Unreadable extends Error {}

interface Waiting {
  readonly resolve: (message: ReadMessage) => void;
  readonly reject: (why: Unreadable) => void;
}

/** A thread and whoever waits for it; one message at a time. */
class Reading {
  private readonly thread: Worker;
  private waiting: Waiting | undefined;
  private isGone = false;

  constructor(keys: readonly TokenKey[]) {
    this.thread = new Worker(WORKER, { workerData: { keys }, resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB } });
    this.thread.on('message', (answer: WasRead) => this.settle(({ resolve, reject }) => ('message' in answer ? resolve(answer.message) : reject(new Unreadable(answer.failed)))));
    this.thread.on('error', (error) => this.end(error.message));
    this.thread.on('exit', () => this.end('the thread that reads mail ended'));
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

  end(why: string): void {
    this.isGone = true;
    this.settle(({ reject }) => reject(new Unreadable(why)));
    void this.thread.terminate();
  }

  async read(message: ToRead): Promise<ReadMessage> {
    const timer = setTimeout(() => this.end(`it was not read within ${DEADLINE_MS / 1000} s`), DEADLINE_MS);
    try {
      return await new Promise((resolve, reject) => {
        this.waiting = { resolve, reject };
        this.thread.postMessage(message);
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
  read(raw: Uint8Array, envelopeTo: readonly string[]): Promise<ReadMessage> {
    const turn = this.last.then(() => {
      if (!this.reading?.isThere) this.reading = new Reading(this.keys.tokens);
      return this.reading.read({ raw, envelopeTo });
    });
    this.last = turn.catch(() => undefined);
    return turn;
  }

  onApplicationShutdown(): void {
    this.reading?.end('Palabra stops');
  }
}
