// Keeps every message, packed, in one file that is only added to; the index stays in memory.
import {
  closeSync,
  existsSync,
  mkdirSync,
  openSync,
  readFileSync,
  readSync,
  writeSync,
} from 'node:fs';
import { join } from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';

export interface Kept {
  readonly id: number;
  readonly to: string;
  readonly from: string;
  readonly at: string;
  readonly offset: number;
  readonly length: number;
}

export class Mailboxes {
  private readonly kept: Kept[] = [];
  private readonly data: number;
  private readonly index: number;
  private end = 0;

  constructor(directory: string) {
    mkdirSync(directory, { recursive: true });
    const indexFile = join(directory, 'index.jsonl');
    if (existsSync(indexFile)) {
      for (const line of readFileSync(indexFile, 'utf8').split('\n')) {
        if (!line.endsWith('}')) continue; // a line cut off by a kill
        this.kept.push(JSON.parse(line) as Kept);
      }
    }
    const last = this.kept.at(-1);
    this.end = last ? last.offset + last.length : 0;
    this.data = openSync(
      join(directory, 'messages.bin'),
      existsSync(join(directory, 'messages.bin')) ? 'r+' : 'w+',
    );
    this.index = openSync(indexFile, 'a');
  }

  keep(from: string, to: string, raw: Buffer): Kept {
    const packed = gzipSync(raw, { level: 1 });
    const kept: Kept = {
      id: this.kept.length + 1,
      to,
      from,
      at: new Date().toISOString(),
      offset: this.end,
      length: packed.length,
    };
    writeSync(this.data, packed, 0, packed.length, this.end);
    writeSync(this.index, `${JSON.stringify(kept)}\n`);
    this.end += packed.length;
    this.kept.push(kept);
    return kept;
  }

  get count(): number {
    return this.kept.length;
  }

  /** Latest first. */
  latest(limit: number, to?: string, before = Infinity): Kept[] {
    const found: Kept[] = [];
    const wanted = to?.toLowerCase();
    for (
      let at = Math.min(this.kept.length, before - 1) - 1;
      at >= 0 && found.length < limit;
      at--
    ) {
      const one = this.kept[at];
      if (one && (!wanted || one.to.toLowerCase().includes(wanted))) found.push(one);
    }
    return found;
  }

  raw(id: number): Buffer | undefined {
    const one = this.kept[id - 1];
    if (!one) return undefined;
    const packed = Buffer.alloc(one.length);
    readSync(this.data, packed, 0, one.length, one.offset);
    return gunzipSync(packed);
  }

  one(id: number): Kept | undefined {
    return this.kept[id - 1];
  }

  close(): void {
    closeSync(this.data);
    closeSync(this.index);
  }
}
