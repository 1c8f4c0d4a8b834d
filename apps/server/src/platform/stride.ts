// Long work beside people at the screen: the embedded database does one thing at a time, so long work goes in steps
// about as long as somebody can wait without noticing, and lets those who wait go first.
import { Injectable } from '@nestjs/common';
import type { NextFunction, Request, Response } from 'express';

const STEP_MS = 60;
/** Where nobody has asked for anything this long, steps may be longer; who comes then still hardly notices. */
const RESTED_MS = 3000;
const RESTED_STEP_MS = 180;
/** A request that takes longer than this, such as an upload, holds up nothing. */
const PATIENCE_MS = 100;

/** The requests that somebody waits for. */
@Injectable()
export class Foreground {
  private inFlight = 0;
  private lastEnd = 0;
  private waiting: (() => void)[] = [];

  /** Counts requests, but for streams of events, which last as long as a page is open; a middleware. */
  readonly watch = (request: Request, response: Response, next: NextFunction): void => {
    if (request.headers.accept !== 'text/event-stream') {
      this.inFlight++;
      response.once('close', () => this.end());
    }
    next();
  };

  /** What a request itself waits for is not held up by it. */
  async aside<T>(work: () => Promise<T>): Promise<T> {
    this.end();
    try {
      return await work();
    } finally {
      this.inFlight++;
    }
  }

  private end(): void {
    this.lastEnd = performance.now();
    if (--this.inFlight > 0) return;
    for (const go of this.waiting.splice(0)) go();
  }

  /** Whether nobody has asked for anything this long, in milliseconds. */
  hasRested(ms: number): boolean {
    return this.inFlight <= 0 && performance.now() - this.lastEnd >= ms;
  }

  /** Resolves when no request is in flight, or after a little while. */
  quiet(): Promise<void> {
    if (this.inFlight <= 0) return Promise.resolve();
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, PATIENCE_MS);
      this.waiting.push(() => {
        clearTimeout(timer);
        resolve();
      });
    });
  }
}

export class Stride {
  constructor(
    private readonly foreground: Foreground,
    /** How much the next step should do: rows, people, letters. */
    public size: number,
    private readonly least: number,
    private readonly most: number,
    private readonly now = (): number => performance.now(),
  ) {}

  /** Does one step when nobody waits; the next is larger or smaller by how long it took. */
  async step<T>(work: (size: number) => Promise<T>): Promise<T> {
    await this.foreground.quiet();
    const started = this.now();
    const result = await work(this.size);
    const wanted = this.foreground.hasRested(RESTED_MS) ? RESTED_STEP_MS : STEP_MS;
    const factor = Math.min(2, wanted / Math.max(this.now() - started, 1));
    this.size = Math.round(Math.min(this.most, Math.max(this.least, this.size * factor)));
    return result;
  }
}
