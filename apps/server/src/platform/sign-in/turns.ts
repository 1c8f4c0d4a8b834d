// Costly work a few at a time; whoever would wait behind too many others is told to come back.
import { Problem } from '../problem.js';

export class Turns {
  private running = 0;
  private readonly waiting: (() => void)[] = [];

  constructor(
    private readonly atOnce: number,
    private readonly mostWaiting: number,
  ) {}

  async take<T>(work: () => Promise<T>): Promise<T> {
    if (this.running < this.atOnce) this.running++;
    else {
      if (this.waiting.length >= this.mostWaiting) throw new Problem(503, 'Too many want this at the same moment. Try again in a few seconds.');
      await new Promise<void>((resolve) => this.waiting.push(resolve));
    }
    try {
      return await work();
    } finally {
      // The turn goes to the next in line, or is given back.
      const next = this.waiting.shift();
      if (next) next();
      else this.running--;
    }
  }
}
