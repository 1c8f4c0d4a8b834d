// Has workbooks read by a thread of its own, with an end to its patience and to its memory.
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { refuse } from './intake.refusals.js';
import type { Answer, ToRead } from './workbook.worker.js';

const DEADLINE_MS = 120_000;
const MEMORY_MB = 384;

/** A thread runs what was built, also where the rest is run from its sources. */
const WORKER = fileURLToPath(new URL('./workbook.worker.js', import.meta.url)).replace(
  '/server/src/',
  '/server/dist/',
);

export interface ReadSheet {
  /** The table as text: UTF-8, commas, a line for each row of the sheet. */
  readonly pieces: Buffer[];
  readonly sheets: readonly string[];
  readonly sheetAt: number;
}

@Injectable()
export class Workbooks implements OnApplicationShutdown {
  private readonly threads = new Set<Worker>();
  /** One after another: each may take all the memory that there is for them. */
  private last: Promise<unknown> = Promise.resolve();

  read(pieces: readonly Buffer[], sheetAt: number | undefined, most: number): Promise<ReadSheet> {
    const turn = this.last.then(() => this.readNow({ bytes: joined(pieces), sheetAt, most }));
    this.last = turn.catch(() => undefined);
    return turn;
  }

  private readNow(task: ToRead): Promise<ReadSheet> {
    const thread = new Worker(WORKER, {
      workerData: task,
      transferList: [task.bytes.buffer as ArrayBuffer],
      resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
    });
    this.threads.add(thread);
    return new Promise<ReadSheet>((resolve, reject) => {
      const pieces: Buffer[] = [];
      const late = setTimeout(() => reject(refuse('large-workbook')), DEADLINE_MS);
      thread.on('message', (answer: Answer) => {
        if ('piece' in answer) pieces.push(Buffer.from(answer.piece));
        else {
          clearTimeout(late);
          if ('failed' in answer) reject(refuse(answer.failed));
          else resolve({ pieces, ...answer });
        }
      });
      // Out of memory, mostly: whatever it is, it is about this file.
      thread.on('error', () => reject(refuse('large-workbook')));
      thread.on('exit', () => {
        clearTimeout(late);
        reject(refuse('large-workbook'));
      });
    }).finally(() => {
      this.threads.delete(thread);
      void thread.terminate();
    });
  }

  async onApplicationShutdown(): Promise<void> {
    await Promise.all([...this.threads].map((thread) => thread.terminate()));
  }
}

/** In a buffer of its own, which can be handed over. */
function joined(pieces: readonly Buffer[]): Uint8Array {
  const bytes = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    bytes.set(piece, at);
    at += piece.length;
  }
  return bytes;
}
