// Pictures and imported files, in pieces of 256 kB, found by their contents.
import { createHash } from 'node:crypto';
import { and, asc, eq } from 'drizzle-orm';
import type { Db } from '../database.js';
import { filePieces, files } from './files.table.js';

const PIECE = 256 * 1024;

export interface StoredFile {
  readonly id: string;
  readonly type: string;
  readonly size: number;
}

export async function saveFile(db: Db, type: string, contents: Buffer, now: Date): Promise<StoredFile> {
  const id = createHash('sha256').update(contents).digest('hex');
  const file = { id, type, size: contents.length };
  const [known] = await db.select().from(files).where(eq(files.id, id));
  if (known) return { id, type: known.type, size: known.size };
  for (let piece = 0; piece * PIECE < contents.length; piece++) {
    await db
      .insert(filePieces)
      .values({ fileId: id, piece, bytes: contents.subarray(piece * PIECE, (piece + 1) * PIECE) })
      .onConflictDoNothing();
  }
  // The row comes last: a file without one is not there, whatever happened in between.
  await db
    .insert(files)
    .values({ ...file, createdAt: now })
    .onConflictDoNothing();
  return file;
}

export async function findFile(db: Db, id: string): Promise<StoredFile | undefined> {
  const [file] = await db.select().from(files).where(eq(files.id, id));
  return file;
}

export async function* readFile(db: Db, id: string): AsyncGenerator<Buffer> {
  for (let piece = 0; ; piece++) {
    const [row] = await db
      .select({ bytes: filePieces.bytes })
      .from(filePieces)
      .where(and(eq(filePieces.fileId, id), eq(filePieces.piece, piece)))
      .orderBy(asc(filePieces.piece));
    if (!row) return;
    yield row.bytes;
  }
}
