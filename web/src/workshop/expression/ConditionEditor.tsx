import Button from '@mui/material/Button';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { noRows, rowsOfText, textOfRows, wants, type AppPerson, type Group, type Scope } from '@bibliona/core';
import { useEffect, useRef, useState } from 'react';
import { ConditionRows } from './ConditionRows.js';
import { ExpressionEditor } from './ExpressionEditor.js';
import { ExpressionProof } from './ExpressionProof.js';

type View = 'rows' | 'text';

/** A condition, pointed together in rows or written as text: both edit the same text. */
export function ConditionEditor(props: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (text: string) => void;
  readonly scope: Scope;
  readonly hint?: string;
  readonly problem?: string | undefined;
  /** For whom the proof counts. */
  readonly of?: Pick<AppPerson, 'id' | 'name'> | undefined;
}) {
  const { label, value, onChange, scope, hint, problem, of } = props;
  const read = rowsOfText(value, scope);
  const [view, setView] = useState<View>(read === null ? 'text' : 'rows');
  // A row that is not whole yet has no text: the rows are kept as they are pointed, as long as the text is theirs.
  const [rows, setRows] = useState<Group>(read ?? noRows);
  const written = useRef(value);
  useEffect(() => {
    if (value === written.current) return;
    written.current = value;
    const again = rowsOfText(value, scope);
    if (again !== null) setRows(again);
  }, [value, scope]);
  const edit = (next: Group): void => {
    setRows(next);
    written.current = textOfRows(next, scope);
    onChange(written.current);
  };
  const show = (next: View): void => {
    if (next === 'rows' && read !== null) setRows(read);
    setView(next);
  };
  return (
    <div className="condition" role="group" aria-label={label}>
      <div className="condition-head">
        <span className="expression-label">{label}</span>
        <Tabs value={view} onChange={(_, next: View) => show(next)} aria-label={`How to edit: ${label}`}>
          <Tab value="rows" label="Rows" disabled={read === null} />
          <Tab value="text" label="Text" />
        </Tabs>
      </div>
      {view === 'rows' && read !== null ? (
        <>
          <ConditionRows group={rows} scope={scope} onChange={edit} />
          {hint !== undefined && rows.of.length === 0 && <p className="q sm">{hint}</p>}
          {problem !== undefined && <p className="expression-problem">{problem}</p>}
          {value.trim() !== '' && scope.table !== null && <ExpressionProof table={scope.table} text={value} of={of} />}
        </>
      ) : (
        <>
          <ExpressionEditor
            label={`${label}, as text`}
            isLabelled
            value={value}
            onChange={onChange}
            scope={scope}
            wanted={wants.truth}
            optional
            problem={problem}
            of={of}
            {...(hint === undefined ? {} : { hint })}
          />
          {read === null && value.trim() !== '' && (
            <p className="q sm">
              This condition can only be edited as text.{' '}
              <Button size="small" className="go" onClick={() => onChange('')}>
                Start again with rows
              </Button>
            </p>
          )}
        </>
      )}
    </div>
  );
}
