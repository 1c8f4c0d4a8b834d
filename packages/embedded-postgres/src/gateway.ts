// Lets many clients share the one session of the embedded database. Whole batches are queued; a
// transaction keeps the session until it ends; nothing of one client is ever answered to another.
import { createServer, type Server, type Socket } from 'node:net';
import { isBounded, type Deadline } from './deadline.js';
import {
  MessageReader,
  backendMessages,
  closeStatement,
  copyInResponse,
  errorResponse,
  greeting,
  parseText,
  query,
  queryText,
  readyForQuery,
  startupParameters,
  sync,
  withPrefix,
  type Message,
} from './wire.js';

/** The one session: takes whole frontend messages, answers with whole backend messages. */
export interface Session {
  exec(input: Uint8Array): Promise<Uint8Array>;
}

export interface GatewayOptions {
  /** How long a client may leave its transaction alone while others wait, in milliseconds. */
  readonly idleInTransaction?: number;
  /** Watches each statement that must not take long. */
  readonly deadline?: Deadline;
}

type Status = 'I' | 'T' | 'E';

const SSL_REQUEST = 80877103;
const GSS_REQUEST = 80877104;
const CANCEL_REQUEST = 80877102;
const copyFromStdin = /^\s*copy\b[\s\S]*\bfrom\s+stdin\b/i;
/** A connection that names itself so may keep its transaction, and take for a statement, as long as it needs. */
export const MIGRATIONS = 'palabra-migrations';

/** What a batch asks first; of a statement that was named earlier it is not known any more, and it is one that reads or writes. */
const firstText = (batch: Buffer): string =>
  batch[0] === 0x51 ? queryText(batch) : batch[0] === 0x50 ? parseText(batch) : 'select';

class Client {
  readonly reader = new MessageReader();
  readonly prefix: string;
  readonly named = new Set<string>();
  /** Batches ready to run, oldest first. */
  readonly ready: Buffer[] = [];
  pending: Buffer[] = [];
  /** The COPY whose data is still coming in: its query, then the data. */
  copy: Buffer[] | undefined;
  /** Set when the open batch was refused here: everything up to Sync is dropped. */
  skipping = false;
  patient = false;
  gone = false;

  constructor(
    readonly socket: Socket,
    readonly id: number,
  ) {
    this.prefix = `g${id}_`;
  }
}

export class Gateway {
  private readonly server: Server;
  private readonly clients = new Set<Client>();
  private readonly queue: Client[] = [];
  private owner: Client | undefined;
  private status: Status = 'I';
  private running = false;
  private closing = false;
  private nextId = 1;
  private idleTimer: NodeJS.Timeout | undefined;
  private readonly idleInTransaction: number;
  private readonly deadline: Deadline | undefined;

  constructor(
    private readonly session: Session,
    options: GatewayOptions = {},
  ) {
    this.idleInTransaction = options.idleInTransaction ?? 10_000;
    this.deadline = options.deadline;
    this.server = createServer((socket) => this.accept(socket));
  }

  listen(path: string): Promise<void> {
    return new Promise((resolve, reject) => {
      this.server.once('error', reject);
      this.server.listen(path, () => resolve());
    });
  }

  /** Refuses new clients, lets the running batch end, and drops everybody. */
  async close(): Promise<void> {
    this.closing = true;
    const closed = new Promise<void>((resolve) => this.server.close(() => resolve()));
    while (this.running) await new Promise((resolve) => setTimeout(resolve, 5));
    if (this.owner) await this.session.exec(query('ROLLBACK'));
    for (const client of this.clients) client.socket.destroy();
    await closed;
  }

  private accept(socket: Socket): void {
    const client = new Client(socket, this.nextId++);
    this.clients.add(client);
    socket.setNoDelay(true);
    socket.on('data', (chunk) => {
      client.reader.push(chunk);
      try {
        this.read(client);
      } catch (error) {
        socket.end(
          errorResponse(
            'FATAL',
            '08P01',
            `protocol violation: ${error instanceof Error ? error.message : ''}`,
          ),
        );
        this.leave(client);
      }
      void this.run();
    });
    socket.on('error', () => this.leave(client));
    socket.on('close', () => this.leave(client));
  }

  private read(client: Client): void {
    for (;;) {
      const next = client.reader.next();
      if (!next || client.gone) return;
      if (!client.reader.started) this.open(client, next);
      else this.take(client, next);
    }
  }

  private open(client: Client, { bytes }: Message): void {
    const code = bytes.readInt32BE(4);
    if (code === SSL_REQUEST || code === GSS_REQUEST) {
      client.socket.write('N');
    } else if (code === CANCEL_REQUEST) {
      // One statement at a time cannot be interrupted: a runaway ends with the process, see deadline.ts.
      client.socket.end();
    } else {
      client.patient = startupParameters(bytes).get('application_name') === MIGRATIONS;
      client.reader.started = true;
      client.socket.write(greeting(client.id));
    }
  }

  private take(client: Client, next: Message): void {
    if (client.copy) return this.takeCopy(client, client.copy, next);
    switch (next.type) {
      case 'X':
        client.socket.end();
        return this.leave(client);
      case 'Q':
        if (copyFromStdin.test(queryText(next.bytes))) {
          client.copy = [next.bytes];
          client.socket.write(copyInResponse);
          return;
        }
        return this.enqueue(client, next.bytes);
      case 'S':
        if (client.skipping) {
          client.skipping = false;
          client.socket.write(readyForQuery(this.owner === client ? this.status : 'I'));
          return;
        }
        client.pending.push(next.bytes);
        this.enqueue(client, Buffer.concat(client.pending));
        client.pending = [];
        return;
      case 'd':
      case 'c':
      case 'f':
        return; // what is left of a COPY that has already failed
      default:
        if (client.skipping) return;
        if (next.type === 'P' && copyFromStdin.test(parseText(next.bytes))) {
          client.skipping = true;
          client.pending = [];
          client.socket.write(
            errorResponse('ERROR', '0A000', 'COPY FROM STDIN needs the simple query protocol here'),
          );
          return;
        }
        client.pending.push(withPrefix(next, client.prefix, client.named));
    }
  }

  private takeCopy(client: Client, copy: Buffer[], next: Message): void {
    if (next.type === 'H' || next.type === 'S') return;
    if (next.type === 'X') {
      client.socket.end();
      return this.leave(client);
    }
    copy.push(next.bytes);
    if (next.type === 'c' || next.type === 'f') {
      client.copy = undefined;
      this.enqueue(client, Buffer.concat(copy));
    }
  }

  private enqueue(client: Client, batch: Buffer): void {
    client.ready.push(batch);
    if (!this.queue.includes(client)) this.queue.push(client);
  }

  private nextClient(): Client | undefined {
    if (this.closing) return undefined;
    if (this.owner) {
      if (this.owner.ready.length === 0) return undefined;
      const at = this.queue.indexOf(this.owner);
      if (at >= 0) this.queue.splice(at, 1);
      return this.owner;
    }
    return this.queue.shift();
  }

  private async run(): Promise<void> {
    if (this.running || this.closing) return;
    this.running = true;
    try {
      for (;;) {
        const client = this.nextClient();
        if (!client) break;
        const batch = client.ready.shift();
        if (!batch) continue;
        this.stopWatching();
        await this.perform(client, batch);
        if (client.gone) await this.cleanUp(client);
        else if (client.ready.length > 0) this.queue.push(client);
      }
    } finally {
      this.running = false;
    }
    this.watchIdle();
  }

  private async perform(client: Client, batch: Buffer): Promise<void> {
    const isCopy = batch[0] === 0x51 && batch.length > 5 + batch.readInt32BE(1) - 4;
    const output = Buffer.from(await this.watched(client, batch));
    const parts: Buffer[] = [];
    for (const part of backendMessages(output)) {
      if (part.type === 'Z')
        this.status = String.fromCharCode(output[part.start + 5] ?? 0x49) as Status;
      if (isCopy && part.type === 'G') continue; // answered already, when the COPY began
      parts.push(output.subarray(part.start, part.end));
    }
    this.owner = this.status === 'I' ? undefined : client;
    if (!client.gone)
      client.socket.write(parts.length === 1 ? (parts[0] ?? output) : Buffer.concat(parts));
  }

  private async watched(client: Client, batch: Buffer): Promise<Uint8Array> {
    if (client.patient || !isBounded(firstText(batch))) return this.session.exec(batch);
    this.deadline?.begin();
    try {
      return await this.session.exec(batch);
    } finally {
      this.deadline?.end();
    }
  }

  private leave(client: Client): void {
    if (client.gone) return;
    client.gone = true;
    this.clients.delete(client);
    client.ready.length = 0;
    const at = this.queue.indexOf(client);
    if (at >= 0) this.queue.splice(at, 1);
    if (!this.running && !this.closing) {
      this.running = true;
      void this.cleanUp(client).finally(() => {
        this.running = false;
        void this.run();
      });
    }
  }

  /** Ends what a vanished client left in the session: its transaction and its named statements. */
  private async cleanUp(client: Client): Promise<void> {
    if (this.owner === client) {
      await this.session.exec(query('ROLLBACK'));
      this.owner = undefined;
      this.status = 'I';
    }
    if (client.named.size > 0 && !this.owner) {
      await this.session.exec(Buffer.concat([...[...client.named].map(closeStatement), sync]));
      client.named.clear();
    }
  }

  /** Only the time spent waiting for the owner while others queue counts. */
  private watchIdle(): void {
    const owner = this.owner;
    if (!owner || owner.patient || this.queue.length === 0) return this.stopWatching();
    if (this.idleTimer) return; // one more who waits does not give the owner more time
    this.idleTimer = setTimeout(() => {
      // What the owner sent while this process was held up is read first.
      setImmediate(() => {
        if (this.owner !== owner || owner.ready.length > 0 || this.running) return;
        owner.socket.end(
          errorResponse('FATAL', '25P03', 'the transaction was left alone while others waited'),
        );
        this.leave(owner);
      });
    }, this.idleInTransaction);
    this.idleTimer.unref();
  }

  private stopWatching(): void {
    clearTimeout(this.idleTimer);
    this.idleTimer = undefined;
  }
}
