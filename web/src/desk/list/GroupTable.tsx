import { CaretDownIcon, CaretRightIcon } from '@phosphor-icons/react';
import { written, type GroupAnswer, type GroupLevels, type Value } from '@bibliona/core';
import { Fragment, useState, type ReactNode, type Ref } from 'react';
import { locale } from '../../state/locale.js';

interface GroupColumn {
  readonly id: string;
  readonly name: string;
  readonly isRight: boolean;
  readonly printSum: (sum: string) => string;
}

const keyOf = (values: readonly Value[]): string => JSON.stringify(values.map(written));

/** Rows under the values that they share, level by level, with counts and sums; a group opens at a press. */
export function GroupTable(props: {
  readonly label: string;
  readonly frame?: Ref<HTMLDivElement>;
  readonly groups: GroupLevels;
  /** Besides the first one, in which a row is opened. */
  readonly columns: readonly GroupColumn[];
  /** What a row is called, and several. */
  readonly unit: readonly [one: string, several: string];
  /** What is at the head of the first column. */
  readonly mark?: ReactNode;
  readonly wordsOf: (level: number, value: Value) => string;
  /** The rows of a group that is open. */
  readonly rowsOf: (values: readonly Value[]) => ReactNode;
}) {
  const { label, frame, groups: data, columns, unit, mark, wordsOf, rowsOf } = props;
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const toggle = (key: string): void =>
    setOpen((now) => {
      const next = new Set(now);
      if (!next.delete(key)) next.add(key);
      return next;
    });
  const firstSum = columns.findIndex((column) => data.sums.includes(column.id));
  const named = firstSum < 0 ? columns.length : firstSum;
  const sums = (group: GroupAnswer) =>
    columns.slice(named).map((column) => {
      const sum = group.sums[data.sums.indexOf(column.id)];
      return (
        <td key={column.id} className={column.isRight ? 'n' : ''}>
          {sum == null ? '' : column.printSum(sum)}
        </td>
      );
    });
  const level = (depth: number, above: readonly Value[]): ReactNode =>
    data.levels[depth]?.groups
      .filter((group) => keyOf(group.values.slice(0, depth - 1)) === keyOf(above))
      .map((group) => {
        const key = keyOf(group.values);
        const isOpen = open.has(key);
        const value = group.values[depth - 1] ?? null;
        return (
          <Fragment key={key}>
            <tr className={`group-head depth-${depth}`}>
              <th scope="rowgroup" colSpan={1 + named}>
                <button type="button" aria-expanded={isOpen} onClick={() => toggle(key)}>
                  {isOpen ? <CaretDownIcon size={14} /> : <CaretRightIcon size={14} />}
                  <b className={value === null ? 'nil' : ''}>{wordsOf(depth - 1, value)}</b>
                  <span className="q">
                    {locale().count(group.count)} {unit[group.count === 1 ? 0 : 1]}
                  </span>
                </button>
              </th>
              {sums(group)}
            </tr>
            {isOpen && (depth < data.by.length ? level(depth + 1, group.values) : rowsOf(group.values))}
          </Fragment>
        );
      });
  const [all] = data.levels[0]?.groups ?? [];
  return (
    <div className="grouped" ref={frame}>
      <table className="rows" aria-label={label}>
        <thead>
          <tr>
            <th scope="col" className="first">
              {mark}
              <span className="vh">Open</span>
            </th>
            {columns.map((column) => (
              <th key={column.id} scope="col" className={column.isRight ? 'n' : ''}>
                {column.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{level(1, [])}</tbody>
        {all !== undefined && data.sums.length > 0 && (
          <tfoot>
            <tr>
              <td colSpan={1 + named}>All</td>
              {sums(all)}
            </tr>
          </tfoot>
        )}
      </table>
      {data.levels.some((each) => each.more) && <p className="q">Only the first 500 groups are shown. Filter or search to see the others.</p>}
    </div>
  );
}
