// Bulk loading by COPY, in pieces small enough for the embedded database.
import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import type pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';

const ROWS = 2000;
const BYTES = 3_500_000;

export type Cell = string | number | boolean | Date | Buffer | null;

function field(cell: Cell): string {
  if (cell === null) return '\\N';
  if (cell instanceof Date) return cell.toISOString();
  if (Buffer.isBuffer(cell)) return `\\\\x${cell.toString('hex')}`;
  if (typeof cell === 'string')
    return cell.replace(
      /[\\\t\n\r]/g,
      (sign) => ({ '\\': '\\\\', '\t': '\\t', '\n': '\\n', '\r': '\\r' })[sign] ?? sign,
    );
  return String(cell);
}

/** Collects rows for one table and loads them when there are enough. */
export class Loader {
  private lines: string[] = [];
  private bytes = 0;

  constructor(
    private readonly client: pg.PoolClient,
    private readonly into: string,
  ) {}

  async add(...cells: Cell[]): Promise<void> {
    const line = `${cells.map(field).join('\t')}\n`;
    this.lines.push(line);
    this.bytes += line.length;
    if (this.lines.length >= ROWS || this.bytes >= BYTES) await this.flush();
  }

  async flush(): Promise<void> {
    if (this.lines.length === 0) return;
    const lines = this.lines;
    this.lines = [];
    this.bytes = 0;
    await pipeline(
      Readable.from([lines.join('')]),
      this.client.query(copyFrom(`copy ${this.into} from stdin`)),
    );
  }
}
