// A browser's window for component tests, with what it lacks of the platform's own.
import { TestEnvironment } from 'jest-environment-jsdom';

const lent = [
  'TextEncoder',
  'TextDecoder',
  'Response',
  'Headers',
  'fetch',
  'structuredClone',
  'ReadableStream',
  'TransformStream',
];

/** The platform's own does not take the signals of this window. */
class Request {
  constructor(url, { method = 'GET', body = '', headers, signal } = {}) {
    Object.assign(this, { url, method, headers, body, signal });
  }

  text() {
    return Promise.resolve(this.body ?? '');
  }
}

export default class Window extends TestEnvironment {
  async setup() {
    await super.setup();
    for (const name of lent) this.global[name] = globalThis[name];
    this.global.Request = Request;
  }
}
