// Files come as the plain body of a request, and stay in the pieces they came in: what walks through a large one
// stops between pieces, so that others get their turn.
import type { Request } from 'express';
import { refuse } from './refusals.js';

/** So long somebody may go through pieces without a turn for others, in milliseconds. */
const TURN_MS = 10;

const PIECE = 16_384;

/** Reads a whole body of at most `limit` bytes into memory. */
export async function readBody(request: Request, limit: number): Promise<Buffer[]> {
  const pieces: Buffer[] = [];
  let size = 0;
  for await (const piece of request as AsyncIterable<Buffer>) {
    size += piece.length;
    if (size > limit) {
      request.resume();
      throw refuse('large-file', Math.floor(limit / 1024 / 1024));
    }
    pieces.push(piece);
  }
  if (size === 0) throw refuse('empty-file');
  return pieces;
}

/** The pieces one after another; now and then everybody else goes first. */
export async function* inTurn(pieces: Iterable<Buffer>): AsyncGenerator<Buffer> {
  let since = performance.now();
  for (const piece of pieces)
    // What is made of a large piece may take long: it is handed over in smaller ones.
    for (let at = 0; at < piece.length; at += PIECE) {
      yield piece.subarray(at, at + PIECE);
      if (performance.now() - since < TURN_MS) continue;
      await new Promise(setImmediate);
      since = performance.now();
    }
}

/** The beginning of a file, as one buffer. */
export function beginningOf(pieces: Iterable<Buffer>, length: number): Buffer {
  const first: Buffer[] = [];
  let size = 0;
  for (const piece of pieces) {
    if (size >= length) break;
    first.push(piece);
    size += piece.length;
  }
  return Buffer.concat(first).subarray(0, length);
}
