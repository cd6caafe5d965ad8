/** Cells of a sheet that were merged into one: what it says counts for each of them. */
export interface Merge {
  /** All from 1. */
  readonly firstRow: number;
  readonly lastRow: number;
  readonly firstColumn: number;
  readonly lastColumn: number;
}

export class MergedCells {
  private readonly starting = new Map<number, Merge[]>();
  private under: { readonly merge: Merge; readonly text: string }[] = [];

  constructor(merges: readonly Merge[]) {
    for (const merge of merges) this.starting.set(merge.firstRow, [...(this.starting.get(merge.firstRow) ?? []), merge]);
  }

  /** Fills the cells of a row; rows come from above to below. @param firstColumn the column that is first in `cells` */
  fill(cells: string[], line: number, firstColumn: number): void {
    this.under = this.under.filter(({ merge }) => merge.lastRow >= line);
    const filled = cells.filter((cell) => cell !== '').length;
    for (const merge of this.starting.get(line) ?? []) {
      const text = cells[merge.firstColumn - firstColumn] ?? '';
      // One merged cell alone in its row is a title above the table, or a line across it.
      const isAcross = filled === 1 && merge.lastColumn > merge.firstColumn;
      if (text !== '' && !isAcross) this.under.push({ merge, text });
    }
    // A row that has nothing of its own stays empty.
    if (filled === 0) return;
    for (const { merge, text } of this.under)
      for (let at = merge.firstColumn - firstColumn; at <= merge.lastColumn - firstColumn; at += 1) {
        if (at < 0) continue;
        while (cells.length <= at) cells.push('');
        cells[at] = text;
      }
  }
}
