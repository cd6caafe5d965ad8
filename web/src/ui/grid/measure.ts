import type { GridColumn } from './DataGrid.js';

/** How many texts of a column are measured: those that look widest. */
const measured = 6;

/** About how wide a text is, in letters of usual width: measuring all of them takes longer than drawing the list. */
const guess = (text: string): number => text.length + 0.5 * (text.match(/[A-ZMWmw@%]/gu)?.length ?? 0) - 0.4 * (text.match(/[ijltfr.,:;'!| ]/gu)?.length ?? 0);

/** How wide columns are if nothing in their heads, in their feet and in these rows is cut off, in pixels. */
export function contentsOf<R>(columns: readonly GridColumn<R>[], rows: readonly R[]): readonly number[] {
  const ruler = document.createElement('div');
  ruler.className = 'data-grid grid-ruler';
  const drawn = columns.map((column) => {
    const texts = [...new Set(rows.map(column.textOf))].map((text) => ({ text, width: guess(text) })).sort((a, b) => b.width - a.width);
    const heads = column.isNameUnseen ? [] : [part('grid-head', column.name)];
    const foot = column.sum === undefined ? [] : [part('grid-cell grid-sum', column.sum)];
    return [...heads, ...foot, ...texts.slice(0, measured).map(({ text }) => part('grid-cell', text))];
  });
  ruler.append(...drawn.flat());
  document.body.append(ruler);
  const widths = drawn.map((parts) => Math.max(0, ...parts.map((element) => Math.ceil(element.getBoundingClientRect().width))));
  ruler.remove();
  return widths;
}

function part(className: string, text: string): HTMLElement {
  const element = document.createElement('span');
  element.className = className;
  element.textContent = text;
  return element;
}
