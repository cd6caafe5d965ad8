import type { GridColumn } from './DataGrid.js';

/** How many texts of a column are measured: the longest are the widest, or nearly. */
const measured = 40;

/** How wide columns are if nothing in their heads and in these rows is cut off, in pixels. */
export function contentsOf<R>(columns: readonly GridColumn<R>[], rows: readonly R[]): readonly number[] {
  const ruler = document.createElement('div');
  ruler.className = 'data-grid grid-ruler';
  const drawn = columns.map((column) => {
    const texts = [...new Set(rows.map(column.textOf))].sort((a, b) => b.length - a.length);
    const heads = column.isNameUnseen ? [] : [part('grid-head', column.name)];
    return [...heads, ...texts.slice(0, measured).map((text) => part('grid-cell', text))];
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
