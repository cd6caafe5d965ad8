import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { PlusIcon, TrashIcon } from '@phosphor-icons/react';
import { check, fieldKinds, isStored, listFor, wants, type NamedRecord, type Table } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { Note } from '../../ui/Note.js';
import { RecordLinks } from '../RecordLinks.js';
import { ConditionEditor } from '../expression/ConditionEditor.js';
import { Several } from '../parts/Several.js';

/** What every record of the table must meet, and which records its list shows. */
export function TableRules({ table }: { readonly table: Table }) {
  const { design } = useApp();
  const { change } = useDesignChange();
  const list = listFor(design, table.id);
  const [checks, setChecks] = useState(table.checks);
  const [together, setTogether] = useState(table.uniqueTogether);
  const [condition, setCondition] = useState(list.condition);
  const [problem, setProblem] = useState<{ readonly at: string; readonly text: string; readonly records?: readonly NamedRecord[] } | null>(null);
  const [isSending, setSending] = useState(false);
  const scope = { design, table: table.id };
  const isChanged = JSON.stringify([checks, together]) !== JSON.stringify([table.checks, table.uniqueTogether]) || condition !== list.condition;
  const save = async (): Promise<void> => {
    for (const each of checks) {
      if (each.condition.trim() === '') return setProblem({ at: each.id, text: 'Enter a condition that every record must meet.' });
      const checked = check(each.condition, scope, wants.truth);
      if (!checked.ok) return setProblem({ at: each.id, text: checked.problems[0]?.message ?? '' });
      if (each.message.trim() === '')
        return setProblem({ at: `${each.id} message`, text: 'Enter the message that people see when a record breaks this rule.' });
    }
    for (const each of together) if (each.fields.length < 2) return setProblem({ at: each.id, text: 'Choose two fields at least.' });
    setSending(true);
    const outcome = await change(
      { kind: 'change_table', table: table.id, checks: [...checks], uniqueTogether: [...together] },
      { kind: 'put', part: 'list', value: { ...list, condition } },
    );
    setSending(false);
    setProblem(outcome === true ? null : { at: 'form', text: outcome.text, records: outcome.records });
  };
  const edit = (id: string, part: Partial<(typeof checks)[number]>): void => {
    setChecks(checks.map((each) => (each.id === id ? { ...each, ...part } : each)));
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
        {checks.map((item, i) => (
          <li key={item.id}>
            <ConditionEditor
              label={`Check ${i + 1}: every record has`}
              value={item.condition}
              onChange={(text) => edit(item.id, { condition: text })}
              scope={scope}
              problem={problem?.at === item.id ? problem.text : undefined}
            />
            <TextField
              label="Message when it fails"
              value={item.message}
              onChange={(event) => edit(item.id, { message: event.target.value })}
              multiline
              {...(problem?.at === `${item.id} message` ? { error: true, helperText: problem.text } : {})}
            />
            <div>
              <Button size="small" startIcon={<TrashIcon />} onClick={() => setChecks(checks.filter((each) => each.id !== item.id))}>
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
      <ul className="checks">
        {together.map((item, i) => (
          <li key={item.id}>
            <Several
              label={`Unique together ${i + 1}`}
              options={table.fields.filter((field) => isStored(field) && fieldKinds[field.kind].traits.canBeUnique)}
              chosen={item.fields}
              onChange={(fields) => {
                setTogether(together.map((each) => (each.id === item.id ? { ...each, fields } : each)));
                setProblem(null);
              }}
              problem={problem?.at === item.id ? problem.text : undefined}
              hint="No two records have the same values in all of these."
              none="No such field."
            />
            {table.fields.some((field) => item.fields.includes(field.id) && field.kind === 'text') && (
              <FormControlLabel
                control={
                  <Checkbox
                    checked={item.anyCase === true}
                    onChange={(_, anyCase) =>
                      setTogether(together.map((each) => (each.id === item.id ? { id: item.id, fields: item.fields, ...(anyCase ? { anyCase } : {}) } : each)))
                    }
                  />
                }
                label="“Oak” and “OAK” are the same"
              />
            )}
            <div>
              <Button size="small" startIcon={<TrashIcon />} onClick={() => setTogether(together.filter((each) => each.id !== item.id))}>
                Remove unique together {i + 1}
              </Button>
            </div>
          </li>
        ))}
      </ul>
      <div>
        <Button className="go" startIcon={<PlusIcon />} onClick={() => setTogether([...together, { id: newId('u'), fields: [] }])}>
          Unique together
        </Button>
      </div>
      <ConditionEditor label="The list shows records where" value={condition} onChange={setCondition} scope={scope} hint="All records." />
      {problem?.at === 'form' && (
        <Note kind="bad">
          {problem.text}
          <RecordLinks records={problem.records ?? []} />
        </Note>
      )}
      <div className="details-foot">
        <Button type="submit" variant="contained" disabled={!isChanged} loading={isSending}>
          Save rules
        </Button>
      </div>
    </form>
  );
}
