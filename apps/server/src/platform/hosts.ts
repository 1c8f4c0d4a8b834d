// Under which names the application may be asked. A page of somebody else's whose name is made to point
// here (DNS rebinding) sends its own name, and gets nothing.
import type { IncomingMessage, ServerResponse } from 'node:http';
import { urlOf } from '@palabra/core/kernel';
import { wire } from './problem.js';

const HERE: ReadonlySet<string> = new Set(['localhost', '127.0.0.1', '[::1]']);

/** The host name of a Host header or an address, in small letters, without its port. */
function hostName(host: string): string | undefined {
  return host === '' || /[/?#@\\]/.test(host) ? undefined : urlOf(`http://${host}`)?.hostname;
}

export class Hosts {
  private readonly own: string;
  private readonly ownOrigin: string;

  constructor(publicUrl: string) {
    const { hostname = '', origin = '' } = urlOf(publicUrl) ?? {};
    this.own = hostname;
    this.ownOrigin = origin;
  }

  knows(host: string | undefined): boolean {
    const name = hostName(host ?? '');
    return name !== undefined && (name === this.own || HERE.has(name));
  }

  /** Whether a page that says it is from `origin` is ours, when it asks `host`. */
  isOwnOrigin(origin: string, host: string | undefined): boolean {
    const from = urlOf(origin);
    if (!from) return false;
    return from.origin === this.ownOrigin || (from.host === host && this.knows(host));
  }

  /** A handler that answers requests for other names; false when the name is one of ours. */
  readonly refuse = (request: IncomingMessage, response: ServerResponse): boolean => {
    if (this.knows(request.headers.host)) return false;
    const detail =
      'Palabra does not answer under this name. Use the address that PUBLIC_URL says, or mend PUBLIC_URL where the program is started.';
    response.writeHead(421, {
      'Content-Type': 'application/problem+json',
      'Cache-Control': 'no-store',
      Connection: 'close',
    });
    response.end(JSON.stringify(wire(421, detail)));
    return true;
  };
}

/** This machine itself: what is said to it crosses no network. */
export const isThisMachine = (host: string): boolean =>
  HERE.has(host.toLowerCase()) || host === '::1' || /^127(\.\d{1,3}){3}$/.test(host);
