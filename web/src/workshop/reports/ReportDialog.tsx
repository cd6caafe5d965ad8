import Autocomplete from '@mui/material/Autocomplete';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { arrangements, type Report } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';
import { pickerIcons } from '../../ui/picker-icons.js';
import { NameField } from '../parts/NameField.js';
import { offersOf, rowSources, type PickedRows } from '../rows/row-sources.js';
import { RowsPicker } from '../rows/RowsPicker.js';
import { reportFrom, type Answers } from './report-draft.js';

// What fits beside each other on a page that stands upright.
const firstFields = 6;

/** A new report: three questions, and its first page is there. */
export function ReportDialog({ onClose, onMade }: { readonly onClose: () => void; readonly onMade: (report: string) => void }) {
  const { design } = useApp();
  const { change } = useDesignChange();
  const [step, setStep] = useState(0);
  const [answers, setAnswers] = useState<Answers>(() => startWith({ kind: 'table', id: design.tables[0]?.id ?? '' }));
  const [problem, setProblem] = useState<{ readonly at: 'name' | 'fields' | 'form'; readonly text: string } | null>(null);
  const [isSending, setSending] = useState(false);
  const set = (part: Partial<Answers>): void => (setAnswers({ ...answers, ...part }), setProblem(null));
  const columns = offersOf(answers.source, design);
  const nameOf = (id: string): string => columns.find((column) => column.id === id)?.name ?? '';

  function startWith(source: PickedRows, name = ''): Answers {
    const listed = rowSources[source.kind].listed(design, source.id);
    return {
      name,
      source,
      shown: listed.slice(0, firstFields),
      groupBy: [],
      orderBy: '',
      direction: 'up',
      arrangement: 'columns',
      paper: { size: 'a4', turned: false },
    };
  }

  const next = async (): Promise<void> => {
    if (step === 0 && answers.name.trim() === '') return setProblem({ at: 'name', text: 'Enter a name. It is shown at the top of the first page.' });
    if (step === 0 && answers.shown.length === 0) return setProblem({ at: 'fields', text: 'Choose at least one field.' });
    const left = answers.shown.filter((each) => !answers.groupBy.includes(each));
    if (step === 1 && left.length === 0)
      return setProblem({
        at: 'form',
        text: 'Every field is a heading, so the rows would be empty. Remove a heading, or go back and add a field.',
      });
    if (step < 2) {
      // So many columns beside each other are read more easily on paper that lies.
      if (step === 1 && left.length > firstFields) setAnswers({ ...answers, paper: { ...answers.paper, turned: true } });
      return setStep(step + 1);
    }
    setSending(true);
    const id = newId('rep');
    const outcome = await change({ kind: 'put', part: 'report', value: reportFrom(answers, design, id, newId) });
    if (outcome === true) return onMade(id);
    setSending(false);
    const isName = outcome.nameTaken === 'report';
    setProblem({ at: isName ? 'name' : 'form', text: outcome.text });
    if (isName) setStep(0);
  };

  return (
    <FormDialog
      title={['What does it show?', 'How is it grouped?', 'What paper?'][step] ?? ''}
      intro={`A new report, question ${step + 1} of 3.`}
      onClose={onClose}
      onSubmit={() => void next()}
      onBack={step === 0 ? undefined : () => (setStep(step - 1), setProblem(null))}
      verb={step < 2 ? 'Next question' : 'Make the first page'}
      isSending={isSending}
    >
      {step === 0 && (
        <>
          <NameField value={answers.name} onChange={(name) => set({ name })} problem={problem?.at === 'name' ? problem.text : undefined} />
          <RowsPicker label="Its rows come from" value={answers.source} onChange={(source) => setAnswers(startWith(source, answers.name))} />
          <Autocomplete
            {...pickerIcons}
            multiple
            disableCloseOnSelect
            options={columns.map((column) => column.id)}
            getOptionLabel={nameOf}
            value={[...answers.shown]}
            onChange={(_, shown) => set({ shown, groupBy: answers.groupBy.filter((each) => columns.some((column) => column.id === each)) })}
            renderInput={(params) => (
              <TextField
                {...params}
                label="Fields, from left to right"
                error={problem?.at === 'fields'}
                helperText={problem?.at === 'fields' ? problem.text : 'The fields of each row. You can add more later.'}
              />
            )}
          />
        </>
      )}
      {step === 1 && (
        <>
          <Autocomplete
            {...pickerIcons}
            multiple
            autoFocus
            options={columns.map((column) => column.id)}
            getOptionLabel={nameOf}
            value={[...answers.groupBy]}
            onChange={(_, groupBy) => set({ groupBy: groupBy.slice(0, 4) })}
            renderInput={(params) => (
              <TextField {...params} label="Group by" helperText="Rows with the same value are grouped, with totals below. Empty: one long list." />
            )}
          />
          <TextField select label="Sort by" value={answers.orderBy} onChange={(event) => set({ orderBy: event.target.value })}>
            <MenuItem value="">not sorted</MenuItem>
            {columns.map((column) => (
              <MenuItem key={column.id} value={column.id}>
                {column.name}
              </MenuItem>
            ))}
          </TextField>
          {answers.orderBy !== '' && (
            <TextField
              select
              label="Which first"
              value={answers.direction}
              onChange={(event) => set({ direction: event.target.value as Answers['direction'] })}
            >
              <MenuItem value="up">smallest, earliest, A</MenuItem>
              <MenuItem value="down">largest, latest, Z</MenuItem>
            </TextField>
          )}
        </>
      )}
      {step === 2 && <PaperFields arrangement={answers.arrangement} paper={answers.paper} onChange={set} />}
      {problem?.at === 'form' && <Note kind="bad">{problem.text}</Note>}
    </FormDialog>
  );
}

/** How rows are on a page, and which page it is. */
export function PaperFields(props: {
  readonly arrangement: Report['arrangement'];
  readonly paper: Report['paper'];
  readonly onChange: (part: Partial<Pick<Report, 'arrangement' | 'paper'>>) => void;
}) {
  const { arrangement, paper, onChange } = props;
  return (
    <>
      <TextField
        select
        label="Fields of a row"
        value={arrangement}
        onChange={(event) => onChange({ arrangement: event.target.value as Report['arrangement'] })}
      >
        {Object.entries(arrangements).map(([name, { choice }]) => (
          <MenuItem key={name} value={name}>
            {choice}
          </MenuItem>
        ))}
      </TextField>
      <TextField select label="Paper" value={paper.size} onChange={(event) => onChange({ paper: { ...paper, size: event.target.value as 'a4' | 'letter' } })}>
        <MenuItem value="a4">A4, 210 × 297 mm</MenuItem>
        <MenuItem value="letter">Letter, 8½ × 11 in</MenuItem>
      </TextField>
      <TextField
        select
        label="Orientation"
        value={paper.turned ? 'turned' : 'upright'}
        onChange={(event) => onChange({ paper: { ...paper, turned: event.target.value === 'turned' } })}
      >
        <MenuItem value="upright">portrait</MenuItem>
        <MenuItem value="turned">landscape</MenuItem>
      </TextField>
    </>
  );
}
