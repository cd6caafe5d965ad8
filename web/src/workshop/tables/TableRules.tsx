import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { PlusIcon, TrashIcon } from '@phosphor-icons/react';
import { check, listFor, wants, type Table } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { Note } from '../../ui/Note.js';
import { ConditionEditor } from '../expression/ConditionEditor.js';

/** What every record of the table must meet, and which records its list shows. */
export function TableRules({ table }: { readonly table: Table }) {
  const { design } = useApp();
  const { change } = useDesignChange();
  const list = listFor(design, table.id);
  const [checks, setChecks] = useState(table.checks);
  const [condition, setCondition] = useState(list.condition);
  const [problem, setProblem] = useState<{ readonly at: string; readonly text: string } | null>(null);
  const [isSending, setSending] = useState(false);
  const scope = { design, table: table.id };
  const isChanged = JSON.stringify(checks) !== JSON.stringify(table.checks) || condition !== list.condition;
  const save = async (): Promise<void> => {
    for (const one of checks) {
      if (one.condition.trim() === '') return setProblem({ at: one.id, text: 'Enter a condition that every record must meet.' });
      const checked = check(one.condition, scope, wants.truth);
      if (!checked.ok) return setProblem({ at: one.id, text: checked.problems[0]?.message ?? '' });
      if (one.message.trim() === '') return setProblem({ at: `${one.id} message`, text: 'Enter the message that people see when a record breaks this rule.' });
    }
    setSending(true);
    const outcome = await change({ kind: 'change_table', table: table.id, checks: [...checks] }, { kind: 'put', part: 'list', value: { ...list, condition } });
    setSending(false);
    setProblem(outcome === true ? null : { at: 'form', text: outcome.text });
  };
  const edit = (id: string, part: Partial<(typeof checks)[number]>): void => {
    setChecks(checks.map((one) => (one.id === id ? { ...one, ...part } : one)));
    setProblem(null);
  };
  return (
    <form
      className="details-body details-form"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
      noValidate
    >
      {checks.length === 0 && (
        <p className="q sm">
          Every record of {table.name} is taken as it is entered. A check says what must be true of each, such as an end after its beginning.
        </p>
      )}
      <ul className="checks">
        {checks.map((one, i) => (
          <li key={one.id}>
            <ConditionEditor
              label={`Check ${i + 1}: every record has`}
              value={one.condition}
              onChange={(text) => edit(one.id, { condition: text })}
              scope={scope}
              problem={problem?.at === one.id ? problem.text : undefined}
            />
            <TextField
              label="Message when it fails"
              value={one.message}
              onChange={(event) => edit(one.id, { message: event.target.value })}
              multiline
              {...(problem?.at === `${one.id} message` ? { error: true, helperText: problem.text } : {})}
            />
            <div>
              <Button size="small" startIcon={<TrashIcon />} onClick={() => setChecks(checks.filter((each) => each.id !== one.id))}>
                Remove check {i + 1}
              </Button>
            </div>
          </li>
        ))}
      </ul>
      <div>
        <Button className="go" startIcon={<PlusIcon />} onClick={() => setChecks([...checks, { id: newId('k'), condition: '', message: '' }])}>
          Check
        </Button>
      </div>
      <ConditionEditor label="The list shows records where" value={condition} onChange={setCondition} scope={scope} hint="All records." />
      {problem?.at === 'form' && <Note kind="bad">{problem.text}</Note>}
      <div className="details-foot">
        <Button type="submit" variant="contained" disabled={!isChanged} loading={isSending}>
          Save rules
        </Button>
      </div>
    </form>
  );
}
