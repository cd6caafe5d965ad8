import type { GridColumn } from './DataGrid.js';
import type { Span } from './geometry.js';

/** The last line of a grid, which stays in sight: the sums of its columns over all rows. */
export function GridFoot<R>(props: {
  readonly columns: readonly GridColumn<R>[];
  readonly edges: readonly number[];
  readonly frozen: number;
  /** The columns in view beside the frozen ones. */
  readonly across: Span;
  /** Its place among the rows for those who hear the screen, from 1. */
  readonly index: number;
  readonly width: number;
}) {
  const { columns, edges, frozen, across, index, width } = props;
  return (
    <div className="grid-foot" role="rowgroup" style={{ width }}>
      <div role="row" aria-rowindex={index}>
        {columns.map((column, at) => {
          if (at >= frozen && (at < across.first || at >= across.end)) return null;
          const left = edges[at] ?? 0;
          const name = column.sum === undefined ? undefined : `Sum of ${column.name}: ${column.sum}`;
          return (
            <div
              key={column.id}
              role="gridcell"
              aria-colindex={at + 1}
              aria-label={name}
              title={name}
              className={`grid-cell grid-sum${column.isRight ? ' right' : ''}${at < frozen ? ' frozen' : ''}`}
              style={{ left, width: (edges[at + 1] ?? 0) - left }}
            >
              {column.sum}
            </div>
          );
        })}
      </div>
    </div>
  );
}
