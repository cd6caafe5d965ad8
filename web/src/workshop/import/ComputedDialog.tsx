import TextField from '@mui/material/TextField';
import { computedProblem, rowComputer, rowTable, wants, type AppDesign, type ColumnSurvey, type ComputedColumn } from '@bibliona/core';
import { useState } from 'react';
import { useCircumstances } from '../../state/app.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { ExpressionEditor } from '../expression/ExpressionEditor.js';

interface ComputedDialogProps {
  readonly column: ComputedColumn | null;
  readonly columns: readonly ColumnSurvey[];
  /** The columns of the file as fields. */
  readonly over: AppDesign;
  /** Rows of the file, as they are in it. */
  readonly sample: readonly (readonly string[])[];
  readonly isGuarded: boolean;
  /** Names of other columns. */
  readonly taken: readonly string[];
  readonly onDone: (column: ComputedColumn) => void;
  readonly onClose: () => void;
}

const mostShown = 5;

/** A column that is computed from each row: its name, the expression and what it gives for the first rows. */
export function ComputedDialog({ column, columns, over, sample, isGuarded, taken, onDone, onClose }: ComputedDialogProps) {
  const around = useCircumstances();
  const [name, setName] = useState(column?.name ?? '');
  const [expression, setExpression] = useState(column?.expression ?? '');
  const [problem, setProblem] = useState<{ readonly at: 'name' | 'expression'; readonly text: string } | null>(null);
  const computed = { name: name.trim(), expression };
  const isReadable = expression.trim() !== '' && computedProblem(computed, over) === null;
  const compute = isReadable ? rowComputer([computed], columns, over, around, isGuarded) : null;
  const send = (): void => {
    if (computed.name === '') return setProblem({ at: 'name', text: 'Enter a name' });
    if (taken.some((other) => other.toLowerCase() === computed.name.toLowerCase())) return setProblem({ at: 'name', text: 'Another column has this name' });
    if (!isReadable) return setProblem({ at: 'expression', text: computedProblem(computed, over) ?? 'Enter an expression' });
    onDone(computed);
  };
  const at = (place: 'name' | 'expression'): string | undefined => (problem?.at === place ? problem.text : undefined);
  return (
    <FormDialog
      title={column === null ? 'New computed column' : 'Computed column'}
      intro="Computed from the other columns of each row: a part of one, or several joined."
      onClose={onClose}
      onSubmit={send}
      verb={column === null ? 'Add the column' : 'Use it'}
      isSending={false}
      isWide
    >
      <TextField
        label="Name"
        value={name}
        autoFocus
        onChange={(event) => (setName(event.target.value), setProblem(null))}
        error={at('name') !== undefined}
        helperText={at('name')}
        slotProps={{ htmlInput: { maxLength: 60 } }}
      />
      <ExpressionEditor
        label="Expression"
        value={expression}
        onChange={(text) => (setExpression(text), setProblem(null))}
        scope={{ design: over, table: rowTable }}
        wanted={wants.plain}
        proof={false}
        problem={at('expression')}
        hint={'As split(Name, " ")[1] for the first word, or Street + ", " + Town'}
      />
      {compute !== null && (
        <table className="rows computed-rows">
          <caption className="q">In the first rows</caption>
          <tbody>
            {sample.slice(0, mostShown).map((cells, i) => {
              const value = compute(cells)[columns.length] ?? '';
              return (
                <tr key={i}>
                  <td className="n">{i + 1}</td>
                  <td>{value === '' ? <span className="nil">empty</span> : value}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </FormDialog>
  );
}
