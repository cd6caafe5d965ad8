import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { contract, leastFillTime, type PublicFormAnswer, type Table } from '@bibliona/core';
import { useRef, useState } from 'react';
import { FormProvider, useForm } from 'react-hook-form';
import { tellTyped } from '../../fields/typed.js';
import { ApiRefusal, call, messageOf } from '../../state/api.js';
import { closedFields, useApp, useKindsOf, type AppInHand } from '../../state/app.js';
import { loadLanguage } from '../../state/language.js';
import { useLocaleIn } from '../../state/locale.js';
import { Note } from '../../ui/Note.js';
import { useBeginning } from '../record/beginnings.js';
import { emptyDraft, writesOf, type DraftIssue, type RecordDraft } from '../record/draft.js';
import { Fills } from '../record/Fills.js';
import { hasFills } from '../record/fills.js';
import { FormBody } from '../record/FormBody.js';
import { LiveForm } from '../record/live.js';
import { mark } from '../record/mark.js';
import { RequiredHere } from '../record/required-here.js';
import type { FormValues } from '../record/form-values.js';
import { missingIn } from '../record/saving.js';

interface Props {
  readonly answer: Extract<PublicFormAnswer, { state: 'open' }>;
  readonly onSent: (thanks: string) => void;
}

/** The form as a visitor fills it in and sends it. */
export function VisitorForm(props: Props) {
  const app = useApp();
  useLocaleIn(app.design);
  const [table] = app.design.tables;
  return table === undefined ? null : <Filled {...props} app={app} table={table} />;
}

function Filled({ answer, onSent, app, table }: Props & { readonly app: AppInHand; readonly table: Table }) {
  useKindsOf([table]);
  const start = emptyDraft(useBeginning(table), []);
  const form = useForm<FormValues>({ defaultValues: start as unknown as FormValues });
  const [layout] = app.design.forms;
  const required = useRef(new Set<string>());
  const [said, setSaid] = useState('');
  const [unseen, setUnseen] = useState('');
  const [openedAt] = useState(() => performance.now());
  const [isSending, setSending] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [wrongAnswer, setWrongAnswer] = useState<string | null>(null);
  const isMarked = table.fields.some((field) => field.required);

  const send = async (): Promise<void> => {
    tellTyped();
    form.clearErrors();
    setProblem(null);
    setWrongAnswer(null);
    setSending(true);
    try {
      await loadLanguage();
      const now = form.getValues() as unknown as RecordDraft;
      const { writes, issues: wrong } = writesOf(app.design, table.id, null, now, closedFields(app.rights));
      const issues = [...wrong, ...missingIn(table, now, required.current)];
      const [write] = writes;
      if (issues.length > 0) return tell(issues);
      const values = write?.kind === 'add' ? write.values : {};
      // Who is quick, perhaps with what the browser fills in, waits here instead of being refused.
      await new Promise((resolve) => setTimeout(resolve, leastFillTime - (performance.now() - openedAt)));
      const params = { app: app.id, form: answer.form };
      onSent((await call(contract.sendPublicForm, { params, body: { ticket: answer.ticket, values, answer: said, unseen } })).thanks);
    } catch (error) {
      refused(error);
    } finally {
      setSending(false);
    }
  };

  const tell = (issues: readonly DraftIssue[]): void => setProblem(mark(form, issues).join(' ') || null);

  const refused = (error: unknown): void => {
    // What a program of the browser has filled in by mistake is not sent again.
    setUnseen('');
    const issues = error instanceof ApiRefusal ? error.issues : [];
    const placed = issues.filter((issue) => table.fields.some((field) => field.id === issue.field));
    if (placed.length > 0) tell(placed.map(({ field = '', message }) => ({ path: `own.${field}`, message })));
    if (issues.some((issue) => issue.field === 'answer')) setWrongAnswer(messageOf(error));
    else if (placed.length === 0) setProblem(messageOf(error));
  };

  if (layout === undefined) return null;
  return (
    <FormProvider {...form}>
      <RequiredHere value={required}>
        <LiveForm table={table} open={null}>
          <form
            className="public-fields"
            noValidate
            onSubmit={(event) => {
              event.preventDefault();
              if (!isSending) void send();
            }}
          >
            {isMarked && <p className="q sm">Fields with * are required.</p>}
            {hasFills(layout) && <Fills form={layout} open={null} start={start} />}
            <FormBody table={table} form={layout} open={null} />
            {answer.question !== null && (
              <TextField
                label={answer.question}
                value={said}
                onChange={(event) => setSaid(event.target.value)}
                error={wrongAnswer !== null}
                helperText={wrongAnswer ?? 'This keeps programs out.'}
                autoComplete="off"
                required
              />
            )}
            {/* Programs that fill in every input give themselves away here. */}
            <input
              className="unseen"
              name="homepage"
              tabIndex={-1}
              autoComplete="off"
              aria-hidden
              value={unseen}
              onChange={(event) => setUnseen(event.target.value)}
            />
            {problem !== null && <Note kind="bad">{problem}</Note>}
            <div>
              <Button type="submit" variant="contained" loading={isSending}>
                Send
              </Button>
            </div>
          </form>
        </LiveForm>
      </RequiredHere>
    </FormProvider>
  );
}
