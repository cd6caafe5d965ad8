/** Where the rows and columns of a grid are, and which of them are in view. All lengths are in pixels. */

export const rowHeight = 32;
/** Browsers cut off elements that are higher than this, some at 17 million. */
const highest = 16_000_000;
/** Rows and columns that are drawn beyond what is in view, so that scrolling finds them drawn. */
const beyond = { rows: 8, columns: 2 };

export interface Span {
  readonly first: number;
  /** The one after the last. */
  readonly end: number;
}

export interface RowsInView extends Span {
  /** How high the body is. */
  readonly height: number;
  /** What is added to the place of a row, `index * rowHeight`, to find it in the body: not 0 only where there are more rows than a body can be high. */
  readonly shift: number;
}

/** The rows in view of a body that is scrolled by `top`. */
export function rowsInView(count: number, top: number, view: number): RowsInView {
  const whole = count * rowHeight;
  const height = Math.min(whole, highest);
  // A body that is not as high as its rows goes by faster than they would, and ends with them.
  const at = height === whole || height <= view ? top : (top * (whole - view)) / (height - view);
  return {
    height,
    shift: Math.round(top - at),
    first: Math.max(0, Math.floor(at / rowHeight) - beyond.rows),
    end: Math.min(count, Math.ceil((at + view) / rowHeight) + beyond.rows),
  };
}

/** How far a body has to be scrolled so that a row is in view, if it is `top` now. */
export function scrolledTo(row: number, count: number, top: number, view: number): number {
  const whole = count * rowHeight;
  const height = Math.min(whole, highest);
  const scale = height === whole || height <= view ? 1 : (whole - view) / (height - view);
  const at = top * scale;
  const [above, below] = [row * rowHeight, (row + 1) * rowHeight - view];
  if (at > above) return above / scale;
  return at < below ? below / scale : top;
}

/** The left edge of each column, and of what would follow the last. */
export const edgesOf = (widths: readonly number[]): readonly number[] =>
  widths.reduce<number[]>((edges, width) => [...edges, (edges.at(-1) ?? 0) + width], [0]);

/** How many of the columns that are wanted to stay in sight do so: at least one, and others need the larger half of the view. */
export function frozenWithin(edges: readonly number[], wanted: number, view: number): number {
  let frozen = Math.min(wanted, edges.length - 1);
  while (frozen > 1 && (edges[frozen] ?? 0) > view / 2) frozen -= 1;
  return Math.max(frozen, 1);
}

/** The columns in view, without the `frozen` first ones, which always are. */
export function columnsInView(edges: readonly number[], frozen: number, left: number, view: number): Span {
  const count = edges.length - 1;
  const start = left + (edges[frozen] ?? 0);
  let first = frozen;
  while (first < count && (edges[first + 1] ?? 0) <= start) first += 1;
  let end = first;
  while (end < count && (edges[end] ?? 0) < left + view) end += 1;
  return { first: Math.max(frozen, first - beyond.columns), end: Math.min(count, end + beyond.columns) };
}

// What a column gets when it fits its content: no more than this, and no less.
const [narrowest, widest] = [70, 420];

/** Columns that have a width keep it; the others (null) get what is in them, and share what is left of the space. */
export function fitted(widths: readonly (number | null)[], contents: readonly number[], space: number): readonly number[] {
  const own = widths.map((width, i) => width ?? Math.min(Math.max(Math.ceil(contents[i] ?? 0), narrowest), widest));
  const free = widths.filter((width) => width === null).length;
  const left = space - own.reduce((sum, width) => sum + width, 0);
  if (free === 0 || left <= 0) return own;
  return own.map((width, i) => (widths[i] === null ? width + Math.floor(left / free) : width));
}
