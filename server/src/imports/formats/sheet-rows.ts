/** The cells of one sheet as they come out of its XML (ECMA-376, part 1, 18.3.1). */
import { columnNumber, type Range } from '@bibliona/core';
import { numberWords, type NumberFormat } from './cell-words.js';
import { damaged } from './zip.js';
import type { Elements } from './xml.js';

/** Of each column, counted from 0, how many of its cells are shown as money, by currency. */
export type Amounts = Map<number, Map<string, number>>;

/** As many as a sheet can have. */
const mostColumns = 16_384;

const plain: NumberFormat = { kind: 'plain' };

/** Characters that XML cannot hold are written as `_x000D_` (ECMA-376, part 1, 22.9.2.19). */
const unescaped = (text: string): string =>
  text.includes('_x') ? text.replace(/_x([0-9A-Fa-f]{4})_/gu, (_, code: string) => String.fromCharCode(parseInt(code, 16))) : text;

export class SheetRows implements Elements {
  private cells: string[] = [];
  private line = 0;
  private column = 0;
  private type = 'n';
  private style = 0;
  private words = '';
  /** Inside an element whose text is what the cell says. */
  private isValue = false;
  private isReading = false;

  constructor(
    private readonly book: {
      readonly strings: readonly string[];
      readonly styles: readonly NumberFormat[];
      readonly since1904: boolean;
      readonly range: Range;
      /** Counts on while cells are read. */
      readonly amounts: Amounts;
    },
    private readonly onRow: (cells: string[], line: number) => void,
  ) {}

  open = (name: string, attributes: Readonly<Record<string, string>>): void => {
    switch (name) {
      case 'row':
        this.line = attributes['r'] === undefined ? this.line + 1 : Number(attributes['r']);
        this.cells = [];
        this.column = 0;
        break;
      case 'c': {
        const letters = /^[A-Z]{1,3}/iu.exec(attributes['r'] ?? '')?.[0];
        this.column = letters === undefined ? this.column + 1 : columnNumber(letters);
        if (this.column > mostColumns) throw damaged();
        this.type = attributes['t'] ?? 'n';
        this.style = Number(attributes['s'] ?? 0);
        this.words = '';
        break;
      }
      case 'v':
      case 't':
        this.isValue = true;
        break;
      case 'rPh':
        this.isReading = true;
        break;
    }
  };

  text = (text: string): void => {
    if (this.isValue && !this.isReading) this.words += text;
  };

  close = (name: string): void => {
    switch (name) {
      case 'v':
      case 't':
        this.isValue = false;
        break;
      case 'rPh':
        this.isReading = false;
        break;
      case 'c':
        this.cell();
        break;
      case 'row':
        if (this.line >= this.book.range.firstRow && this.line <= this.book.range.lastRow) this.onRow(this.cells, this.line);
        break;
    }
  };

  private cell(): void {
    const { firstColumn, lastColumn } = this.book.range;
    const said = this.said();
    if (said === '' || this.column < firstColumn || this.column > lastColumn) return;
    const at = this.column - firstColumn;
    while (this.cells.length < at) this.cells.push('');
    this.cells[at] = said;
    const format = this.book.styles[this.style];
    if (this.type === 'n' && format?.kind === 'amount') this.countAmount(at, format.currency);
  }

  private countAmount(column: number, currency: string): void {
    const { amounts } = this.book;
    const counted = amounts.get(column) ?? new Map<string, number>();
    amounts.set(column, counted.set(currency, (counted.get(currency) ?? 0) + 1));
  }

  private said(): string {
    const { strings, styles, since1904 } = this.book;
    switch (this.type) {
      case 's':
        return unescaped(strings[Number(this.words)] ?? '');
      case 'b':
        return this.words === '1' || this.words === 'true' ? 'yes' : 'no';
      case 'n':
        return numberWords(this.words, styles[this.style] ?? plain, since1904);
      case 'd':
        return this.words.replace(/T00:00:00(?:\.0+)?Z?$/u, '');
      default:
        return unescaped(this.words);
    }
  }
}
