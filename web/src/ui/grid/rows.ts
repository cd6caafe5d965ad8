/** The rows of a grid of any length, which come by the block as they come into view. */
import type { Span } from './geometry.js';

export interface Block<R> {
  readonly rows: readonly R[];
  /** How many rows there are, once the end has been seen. */
  readonly last: number | undefined;
}

export interface RowSource<R> {
  /** The first rows, if they are here already. */
  readonly first?: Block<R>;
  readonly read: (start: number, end: number) => Promise<Block<R>>;
  readonly idOf: (row: R) => number;
  readonly onFailure: (error: unknown) => void;
}

export const blockSize = 100;
/** How many blocks are kept. */
const mostBlocks = 30;

/** Reads one block after another, those in view first, and keeps what it has read. */
export class Rows<R> {
  private readonly blocks = new Map<number, { readonly rows: readonly R[]; readonly isStale: boolean }>();
  private readonly listeners = new Set<() => void>();
  private view: Span = { first: 0, end: blockSize };
  private last: number | undefined;
  private reached = 0;
  private refreshes = 0;
  private isReading = false;
  private hasFailed = false;
  /** Grows with each change of what is here. */
  version = 0;

  constructor(private readonly source: RowSource<R>) {
    if (source.first !== undefined) this.keep(0, source.first, false);
  }

  /** How many rows there are, as far as that is known: `known` is what was counted. */
  length(known: number): number {
    return this.last ?? Math.max(known, this.reached);
  }

  at(index: number): R | undefined {
    return this.blocks.get(Math.floor(index / blockSize))?.rows[index % blockSize];
  }

  /** The rows of the first block; null while it has not come. */
  first(): readonly R[] | null {
    return this.blocks.get(0)?.rows ?? null;
  }

  find(id: number): { readonly row: R; readonly index: number } | null {
    for (const [at, { rows }] of this.blocks) {
      const i = rows.findIndex((row) => this.source.idOf(row) === id);
      const row = rows[i];
      if (row !== undefined) return { row, index: at * blockSize + i };
    }
    return null;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Says which rows are in view: they are read if they are not here. */
  show(view: Span): void {
    this.view = view;
    void this.readOn();
  }

  /** Everything is read again as it comes into view; until then it is shown as it was. */
  refresh(): void {
    this.hasFailed = false;
    this.refreshes += 1;
    for (const [at, block] of this.blocks) this.blocks.set(at, { ...block, isStale: true });
    void this.readOn();
  }

  /** The rows of a span as they are now, which are read where they are not here; undefined beyond the end. */
  async load({ first, end }: Span): Promise<readonly (R | undefined)[]> {
    const read = new Map<number, readonly R[]>();
    for (let at = Math.floor(first / blockSize); at * blockSize < end; at += 1) {
      const start = at * blockSize;
      const block = this.blocks.get(at);
      read.set(at, block === undefined || block.isStale ? (await this.source.read(start, start + blockSize)).rows : block.rows);
    }
    return Array.from({ length: end - first }, (_, i) => read.get(Math.floor((first + i) / blockSize))?.[(first + i) % blockSize]);
  }

  replace(row: R): void {
    const id = this.source.idOf(row);
    for (const [at, block] of this.blocks)
      if (block.rows.some((other) => this.source.idOf(other) === id))
        this.blocks.set(at, { ...block, rows: block.rows.map((other) => (this.source.idOf(other) === id ? row : other)) });
    this.changed();
  }

  private nextBlock(): number | null {
    const { first, end } = this.view;
    const stop = Math.min(end, this.last ?? end);
    for (let at = Math.floor(first / blockSize); at * blockSize < stop; at += 1) {
      const block = this.blocks.get(at);
      if (block === undefined || block.isStale) return at;
    }
    return null;
  }

  private async readOn(): Promise<void> {
    if (this.isReading || this.hasFailed) return;
    this.isReading = true;
    try {
      for (let at = this.nextBlock(); at !== null; at = this.nextBlock()) {
        const start = at * blockSize;
        const { refreshes } = this;
        const block = await this.source.read(start, start + blockSize);
        // What was asked for before a refresh might not have what it is for.
        this.keep(at, block, refreshes !== this.refreshes);
        this.forget();
        this.changed();
      }
    } catch (error) {
      // It is tried again when the person says so.
      this.hasFailed = true;
      this.source.onFailure(error);
    } finally {
      this.isReading = false;
    }
  }

  private keep(at: number, { rows, last }: Block<R>, isStale: boolean): void {
    this.blocks.set(at, { rows, isStale });
    if (last !== undefined) this.last = last;
    else {
      // There is at least one more row after a block that is not the last.
      this.reached = Math.max(this.reached, at * blockSize + rows.length + 1);
      if (this.last !== undefined && this.last < this.reached) this.last = undefined;
    }
  }

  private forget(): void {
    const middle = (this.view.first + this.view.end) / 2 / blockSize;
    // The first block stays: widths are found from it.
    const far = [...this.blocks.keys()].filter((at) => at !== 0).sort((a, b) => Math.abs(b - middle) - Math.abs(a - middle));
    for (const at of far) {
      if (this.blocks.size <= mostBlocks) return;
      this.blocks.delete(at);
    }
  }

  private changed(): void {
    this.version += 1;
    for (const listener of this.listeners) listener();
  }
}
