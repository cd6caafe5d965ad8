import { printTyped, type QueryResult, type Value } from '@bibliona/core';
import { ArrowDownIcon, ArrowUpIcon } from '@phosphor-icons/react';
import { Link } from 'react-router';
import { useApp } from '../state/app.js';
import { locale } from '../state/locale.js';

/** The rows of a query's result. A row that stands for one record leads to it, and so does every record in it. */
export function ResultRows(props: {
  readonly result: QueryResult;
  /** The table whose records the rows stand for. */
  readonly table: string;
  readonly selected?: string | undefined;
  readonly order?: { readonly column: string; readonly direction: 'up' | 'down' } | undefined;
  /** What a press on a heading does, where it does something. */
  readonly onHead?: (column: string) => void;
}) {
  const app = useApp();
  const { result, selected, order, onHead } = props;
  const right = (type: string): string => (type === 'number' ? 'n' : '');
  return (
    <table className="rows res">
      <thead>
        <tr>
          <th scope="col" className="no">
            <span className="vh">Row</span>
          </th>
          {result.columns.map((column) => {
            const arrow = order?.column === column.id && (order.direction === 'down' ? <ArrowDownIcon size={12} /> : <ArrowUpIcon size={12} />);
            const sorted = order?.column === column.id ? (order.direction === 'down' ? 'descending' : 'ascending') : undefined;
            return (
              <th key={column.id} scope="col" className={`${right(column.type)} ${column.id === selected ? 'opened' : ''}`} aria-sort={sorted}>
                {onHead === undefined ? (
                  <span>
                    {column.name} {arrow}
                  </span>
                ) : (
                  <button type="button" className="head-button" onClick={() => onHead(column.id)}>
                    {column.name} {arrow}
                  </button>
                )}
              </th>
            );
          })}
        </tr>
      </thead>
      <tbody>
        {result.rows.map((row, i) => (
          <tr key={row.id ?? i}>
            <td className="no">
              {row.id === null ? (
                i + 1
              ) : (
                <Link className="lk" to={`/desk/${app.id}/${props.table}/${row.id}`} aria-label={`Open record ${row.id}`}>
                  {i + 1}
                </Link>
              )}
            </td>
            {result.columns.map((column, at) => {
              const value: Value = row.cells[at] ?? null;
              if (value === null)
                return (
                  <td key={column.id} className={`none ${right(column.type)}`}>
                    empty
                  </td>
                );
              return (
                <td key={column.id} className={right(column.type)}>
                  {typeof value === 'object' && column.table !== null ? (
                    <Link className="lk" to={`/desk/${app.id}/${column.table}/${value.id}`}>
                      {value.caption}
                    </Link>
                  ) : (
                    printTyped(column, value, locale())
                  )}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
