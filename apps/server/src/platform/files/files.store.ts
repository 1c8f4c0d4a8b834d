// Pictures and imported files, in pieces of 256 kB, found by their contents.
import { createHash } from 'node:crypto';
import { and, asc, eq } from 'drizzle-orm';
import type { Db } from '../database.js';
import { inTurn } from '../upload.js';
import { filePieces, files } from './files.table.js';

const PIECE = 256 * 1024;

export interface StoredFile {
  readonly id: string;
  readonly type: string;
  readonly size: number;
}

/** Cuts and joins pieces so that each is `PIECE` long, but for the last. */
async function* repacked(pieces: Iterable<Buffer>): AsyncGenerator<Buffer> {
  let gathered: Buffer[] = [];
  let size = 0;
  for await (const piece of inTurn(pieces)) {
    for (let rest = piece; rest.length > 0;) {
      const part = rest.subarray(0, PIECE - size);
      gathered.push(part);
      size += part.length;
      rest = rest.subarray(part.length);
      if (size < PIECE) continue;
      yield Buffer.concat(gathered);
      gathered = [];
      size = 0;
    }
  }
  if (size > 0) yield Buffer.concat(gathered);
}

export async function saveFile(
  db: Db,
  type: string,
  pieces: readonly Buffer[],
  now: Date,
): Promise<StoredFile> {
  const hash = createHash('sha256');
  let size = 0;
  for await (const piece of inTurn(pieces)) {
    hash.update(piece);
    size += piece.length;
  }
  const id = hash.digest('hex');
  const file = { id, type, size };
  const [known] = await db.select().from(files).where(eq(files.id, id));
  if (known) return { id, type: known.type, size: known.size };
  let piece = 0;
  for await (const bytes of repacked(pieces))
    await db.insert(filePieces).values({ fileId: id, piece: piece++, bytes }).onConflictDoNothing();
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

export async function dropFile(db: Db, id: string): Promise<void> {
  await db.delete(files).where(eq(files.id, id));
  await db.delete(filePieces).where(eq(filePieces.fileId, id));
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
