import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { Repeats } from '@bibliona/core';
import { locale } from '../../state/locale.js';

interface DifferingRowsProps {
  readonly of: Repeats['things'][number]['columns'][number];
  /** What is named, and the column in which rows differ. */
  readonly noun: string;
  readonly column: string;
  /** What rows are counted in. */
  readonly unit: string;
  /** What was said to be right, by the name. */
  readonly right: readonly { readonly name: string; readonly value: string }[];
  readonly onRight: (name: string, value: string) => void;
}

/** Names whose rows differ: which value is right, unless it is that of most rows. */
export function DifferingRows({ of, noun, column, unit, right, onRight }: DifferingRowsProps) {
  const rows = (count: number): string => (count === 1 ? '1 row' : `${locale().count(count)} rows`);
  const nameless = of.names.find((differingName) => differingName.name === '');
  const named = of.names.filter((differingName) => differingName.name !== '');
  const namelessRows = nameless?.values.reduce((sum, value) => sum + (value.text === '' ? 0 : value.rows), 0) ?? 0;
  return (
    <>
      {namelessRows > 0 && (
        <p className="q">
          {namelessRows === 1 ? '1 row has' : `${locale().count(namelessRows)} rows have`} a {column} but no {noun}:{' '}
          {namelessRows === 1 ? 'it is' : 'these are'} left out.
        </p>
      )}
      {named.length > 0 && (
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">{noun}</th>
              <th scope="col">Right {column}</th>
              <th scope="col">Others</th>
            </tr>
          </thead>
          <tbody>
            {named.map(({ name, values }) => {
              const value = right.find((each) => each.name === name)?.value ?? values[0]?.text ?? '';
              return (
                <tr key={name}>
                  <th scope="row">{name}</th>
                  <td>
                    <TextField
                      select
                      hiddenLabel
                      value={value}
                      onChange={(event) => onRight(name, event.target.value)}
                      slotProps={{
                        select: { displayEmpty: true, SelectDisplayProps: { 'aria-label': `Right ${column} of ${name}` } },
                      }}
                    >
                      {values.map((each) => (
                        <MenuItem key={each.text} value={each.text}>
                          {each.text === '' ? <span className="nil">empty</span> : each.text}
                        </MenuItem>
                      ))}
                    </TextField>
                  </td>
                  <td className="q">
                    {values
                      .filter((each) => each.text !== value)
                      .map(
                        (each) =>
                          `${each.text === '' ? 'empty' : each.text} in ${rows(each.rows)}, first in ${unit.toLowerCase()} ${locale().count(each.line)}`,
                      )
                      .join('; ')}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </>
  );
}
