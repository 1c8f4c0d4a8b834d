// Just enough of the PostgreSQL frontend/backend protocol (version 3) to queue whole batches and keep
// the connections' names apart. Source: PostgreSQL documentation, "Message Formats".

export interface Message {
  /** One letter, e.g. `Q`; empty for the untyped messages that open a connection. */
  readonly type: string;
  /** The whole message, header included. */
  readonly bytes: Buffer;
}

/** Larger than any message the gateway accepts; a client that announces more is not speaking the protocol. */
const MAX_MESSAGE = 1 << 29;

/** Splits a stream of bytes into frontend messages. The first message of a connection carries no type letter. */
export class MessageReader {
  private chunks: Buffer[] = [];
  private size = 0;
  started = false;

  push(chunk: Buffer): void {
    this.chunks.push(chunk);
    this.size += chunk.length;
  }

  /** The next whole message, or undefined until more bytes come. Throws when the length is impossible. */
  next(): Message | undefined {
    const header = this.started ? 5 : 4;
    if (this.size < header) return undefined;
    const head = this.peek(header);
    const length = head.readInt32BE(this.started ? 1 : 0) + (this.started ? 1 : 0);
    if (length < header || length > MAX_MESSAGE)
      throw new Error(`impossible message length ${length}`);
    if (this.size < length) return undefined;
    const bytes = this.take(length);
    return { type: this.started ? String.fromCharCode(bytes[0] ?? 0) : '', bytes };
  }

  private peek(length: number): Buffer {
    const first = this.chunks[0];
    if (first && first.length >= length) return first;
    this.join();
    return this.chunks[0] ?? Buffer.alloc(0);
  }

  private take(length: number): Buffer {
    let first = this.chunks[0];
    if (!first || first.length < length) {
      this.join();
      first = this.chunks[0] ?? Buffer.alloc(0);
    }
    this.size -= length;
    if (first.length === length) this.chunks.shift();
    else this.chunks[0] = first.subarray(length);
    return first.subarray(0, length);
  }

  private join(): void {
    this.chunks = [Buffer.concat(this.chunks)];
  }
}

const cstring = (bytes: Buffer, from: number): { text: string; end: number } => {
  const end = bytes.indexOf(0, from);
  if (end < 0) throw new Error('text without its end');
  return { text: bytes.toString('utf8', from, end), end: end + 1 };
};

export function message(type: string, body: Buffer): Buffer {
  const out = Buffer.allocUnsafe(5 + body.length);
  out.write(type, 0, 'latin1');
  out.writeInt32BE(4 + body.length, 1);
  body.copy(out, 5);
  return out;
}

const z = (text: string): Buffer => Buffer.from(`${text}\0`, 'utf8');

/** The parameters of a StartupMessage, e.g. user and application_name. */
export function startupParameters(bytes: Buffer): Map<string, string> {
  const parameters = new Map<string, string>();
  let at = 8;
  while (at < bytes.length && bytes[at] !== 0) {
    const name = cstring(bytes, at);
    const value = cstring(bytes, name.end);
    parameters.set(name.text, value.text);
    at = value.end;
  }
  return parameters;
}

/** The text of a simple query (`Q`). */
export const queryText = (bytes: Buffer): string => cstring(bytes, 5).text;

/** The statement text of a Parse message (`P`). */
export const parseText = (bytes: Buffer): string => cstring(bytes, cstring(bytes, 5).end).text;

/**
 * Puts `prefix` before the statement and portal names of one extended-query message, so that two
 * connections can use the same name. Unnamed ones stay unnamed. `named` collects the statements
 * that will have to be closed with the connection.
 */
export function withPrefix({ type, bytes }: Message, prefix: string, named: Set<string>): Buffer {
  const put = (name: string): string => (name === '' ? '' : prefix + name);
  switch (type) {
    case 'P': {
      const name = cstring(bytes, 5);
      if (name.text === '') return bytes;
      named.add(prefix + name.text);
      return message('P', Buffer.concat([z(put(name.text)), bytes.subarray(name.end)]));
    }
    case 'B': {
      const portal = cstring(bytes, 5);
      const statement = cstring(bytes, portal.end);
      if (portal.text === '' && statement.text === '') return bytes;
      return message(
        'B',
        Buffer.concat([z(put(portal.text)), z(put(statement.text)), bytes.subarray(statement.end)]),
      );
    }
    case 'D':
    case 'C': {
      const name = cstring(bytes, 6);
      if (name.text === '') return bytes;
      if (type === 'C' && bytes[5] === 0x53) named.delete(prefix + name.text);
      return message(type, Buffer.concat([bytes.subarray(5, 6), z(put(name.text))]));
    }
    case 'E': {
      const portal = cstring(bytes, 5);
      if (portal.text === '') return bytes;
      return message('E', Buffer.concat([z(put(portal.text)), bytes.subarray(portal.end)]));
    }
    default:
      return bytes;
  }
}

const int32 = (value: number): Buffer => {
  const out = Buffer.allocUnsafe(4);
  out.writeInt32BE(value);
  return out;
};

export const sync = message('S', Buffer.alloc(0));
export const query = (text: string): Buffer => message('Q', z(text));
export const closeStatement = (name: string): Buffer => message('C', z(`S${name}`));
export const readyForQuery = (status: 'I' | 'T' | 'E'): Buffer =>
  message('Z', Buffer.from(status, 'latin1'));
export const copyInResponse = message('G', Buffer.from([0, 0, 0]));

export function errorResponse(severity: 'ERROR' | 'FATAL', code: string, text: string): Buffer {
  return message(
    'E',
    Buffer.concat([
      z(`S${severity}`),
      z(`V${severity}`),
      z(`C${code}`),
      z(`M${text}`),
      Buffer.from([0]),
    ]),
  );
}

/** What the gateway answers to a StartupMessage. */
export function greeting(processId: number): Buffer {
  const status = (name: string, value: string): Buffer =>
    message('S', Buffer.concat([z(name), z(value)]));
  return Buffer.concat([
    message('R', int32(0)),
    status('server_version', '18.0'),
    status('server_encoding', 'UTF8'),
    status('client_encoding', 'UTF8'),
    status('DateStyle', 'ISO, MDY'),
    status('TimeZone', 'UTC'),
    status('integer_datetimes', 'on'),
    status('standard_conforming_strings', 'on'),
    message('K', Buffer.concat([int32(processId), int32(0)])),
    readyForQuery('I'),
  ]);
}

/** Walks over backend messages and reports type and position of each. */
export function* backendMessages(
  bytes: Buffer,
): Generator<{ type: string; start: number; end: number }> {
  let at = 0;
  while (at + 5 <= bytes.length) {
    const end = at + 1 + bytes.readInt32BE(at + 1);
    if (end > bytes.length) throw new Error('half a message from the database');
    yield { type: String.fromCharCode(bytes[at] ?? 0), start: at, end };
    at = end;
  }
}
