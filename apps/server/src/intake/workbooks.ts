// Has workbooks read by a process of its own, with an end to its patience and to its memory: what is packed into a file may
// be larger than any machine.
import { fork, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { refuse } from './intake.refusals.js';
import type { Answer, ToRead } from './workbook.worker.js';

const DEADLINE_MS = 120_000;
const MEMORY_MB = 320;

/** A process runs what was built, also where the rest is run from its sources. */
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
  private readonly readers = new Set<ChildProcess>();
  /** One after another: each may take all the memory that there is for them. */
  private last: Promise<unknown> = Promise.resolve();

  /** `most`: bytes of text that are made at the most. */
  read(pieces: readonly Buffer[], sheetAt: number | undefined, most: number): Promise<ReadSheet> {
    const turn = this.last.then(() =>
      this.readNow({ bytes: Buffer.concat(pieces), sheetAt, most }),
    );
    this.last = turn.catch(() => undefined);
    return turn;
  }

  private readNow(task: ToRead): Promise<ReadSheet> {
    const reader = fork(WORKER, [], {
      serialization: 'advanced',
      execArgv: [`--max-old-space-size=${MEMORY_MB}`],
      // It reads what strangers wrote: it knows nothing of ours.
      env: {},
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    this.readers.add(reader);
    return new Promise<ReadSheet>((resolve, reject) => {
      const pieces: Buffer[] = [];
      const late = setTimeout(() => reject(refuse('large-workbook')), DEADLINE_MS);
      // Out of memory, mostly: whatever it is, it is about this file.
      const ended = (): void => {
        clearTimeout(late);
        reject(refuse('large-workbook'));
      };
      reader.on('message', (answer: Answer) => {
        if ('piece' in answer) return void pieces.push(Buffer.from(answer.piece));
        clearTimeout(late);
        if ('failed' in answer) reject(refuse(answer.failed));
        else resolve({ pieces, ...answer });
      });
      reader.on('error', ended);
      reader.on('exit', ended);
      reader.send(task);
    }).finally(() => {
      this.readers.delete(reader);
      reader.kill('SIGKILL');
    });
  }

  onApplicationShutdown(): void {
    for (const reader of this.readers) reader.kill('SIGKILL');
  }
}
