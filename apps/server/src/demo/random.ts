// A small seeded generator, so that the demo world is the same everywhere (mulberry32, public domain).

export class Random {
  private state: number;

  constructor(seed: number) {
    this.state = seed >>> 0;
  }

  /** From 0 up to but not including 1. */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) >>> 0;
    let t = this.state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  }

  int(below: number): number {
    return Math.floor(this.next() * below);
  }

  chance(probability: number): boolean {
    return this.next() < probability;
  }

  pick<T>(list: readonly T[]): T {
    const one = list[this.int(list.length)];
    if (one === undefined) throw new Error('nothing to pick from');
    return one;
  }

  /** Waiting time with a mean, exponentially distributed. */
  wait(mean: number): number {
    return -Math.log(1 - this.next()) * mean;
  }
}
