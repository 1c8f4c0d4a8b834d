// Costly work a few at a time. Nobody fills the line alone: who has asked for much already is told to come back.
import { refuse } from '../refusals.js';

export class Turns {
  private running = 0;
  private readonly waiting: (() => void)[] = [];
  private readonly asked = new Map<string, number>();

  constructor(
    private readonly atOnce: number,
    private readonly mostWaiting: number,
    private readonly mostOfOne: number,
  ) {}

  async take<T>(who: string, work: () => Promise<T>): Promise<T> {
    const asked = this.asked.get(who) ?? 0;
    if (asked >= this.mostOfOne || this.waiting.length >= this.mostWaiting)
      throw refuse('too-many-at-once');
    this.asked.set(who, asked + 1);
    try {
      if (this.running < this.atOnce) this.running++;
      else await new Promise<void>((resolve) => this.waiting.push(resolve));
      try {
        return await work();
      } finally {
        // The turn goes to the next in line, or is given back.
        const next = this.waiting.shift();
        if (next) next();
        else this.running--;
      }
    } finally {
      const left = (this.asked.get(who) ?? 1) - 1;
      if (left > 0) this.asked.set(who, left);
      else this.asked.delete(who);
    }
  }
}
