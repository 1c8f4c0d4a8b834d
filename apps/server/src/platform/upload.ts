// Files come as the plain body of a request.
import type { Request } from 'express';
import { Problem } from './problem.js';

/** Reads a whole body of at most `limit` bytes into memory. */
export async function readBody(request: Request, limit: number): Promise<Buffer> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of request as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size > limit) {
      request.resume();
      throw new Problem(413, `This file is larger than ${Math.floor(limit / 1024 / 1024)} MB.`);
    }
    chunks.push(chunk);
  }
  if (size === 0) throw new Problem(400, 'The file is empty.');
  return Buffer.concat(chunks);
}
