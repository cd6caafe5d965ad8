/** Pseudo-random numbers from a fixed seed (mulberry32): the same demo on every machine, and core needs no randomness. */
export class Random {
  constructor(private state: number) {}

  /** From 0 up to, not including, 1. */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) | 0;
    let t = Math.imul(this.state ^ (this.state >>> 15), 1 | this.state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  }

  /** A whole number from `low` to `high`, both possible. */
  whole(low: number, high: number): number {
    return low + Math.floor(this.next() * (high - low + 1));
  }

  chance(part: number): boolean {
    return this.next() < part;
  }

  pick<T>(from: readonly T[]): T {
    return from[Math.floor(this.next() * from.length)] as T;
  }

  /** Around `mean`, rarely further than two `spread`s: the sum of three even ones is near enough to normal. */
  around(mean: number, spread: number): number {
    return mean + (this.next() + this.next() + this.next() - 1.5) * 2 * spread;
  }
}
