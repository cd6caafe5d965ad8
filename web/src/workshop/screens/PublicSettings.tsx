import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { contract, grantOf, publicFields, publicProblems, PublicForm, tableOf, type Form, type OpenToAll, type Role } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../../state/api.js';
import { newId, useApp, type AppInHand } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { Note } from '../../ui/Note.js';

interface Props {
  readonly form: Form;
  readonly saved: Form;
  readonly onChange: (form: Form) => void;
}

/** Whether anyone can fill in the form, and on which terms. */
export function PublicSettings({ form, saved, onChange }: Props) {
  const app = useApp();
  const { change } = useDesignChange();
  const [problem, setProblem] = useState<string | null>(null);
  const [isOpening, setOpening] = useState(false);
  const open = async (): Promise<void> => {
    setProblem(null);
    const made = addingRole(app, form);
    if (!app.design.roles.includes(made)) {
      setOpening(true);
      const outcome = await change({ kind: 'put', part: 'role', value: made });
      setOpening(false);
      if (outcome !== true) return setProblem(outcome.text);
    }
    onChange({ ...form, public: { role: made.id, sites: [] } });
  };
  const close = (): void => {
    const { public: _, ...rest } = form;
    onChange(rest);
  };
  return (
    <fieldset className="details-group">
      <legend>Public</legend>
      <FormControlLabel
        control={
          <Checkbox
            checked={form.public !== undefined || isOpening}
            disabled={isOpening}
            onChange={(event) => (event.target.checked ? void open() : close())}
          />
        }
        label="Anyone can fill it in, without signing in"
      />
      {problem !== null && <Note kind="bad">{problem}</Note>}
      {form.public !== undefined && <Terms form={form as OpenToAll} saved={saved} onChange={onChange} />}
    </fieldset>
  );
}

/** A role that adds to the table and sees nothing: one of the app's, else a new one. */
function addingRole({ design }: AppInHand, form: Form): Role {
  const isRight = (role: Role): boolean =>
    !role.everything &&
    role.grants.every((grant) => !grant.see) &&
    role.grants.some((grant) => grant.table === form.table && grant.add && grant.condition === '');
  const { name } = tableOf(design, form.table);
  return (
    design.roles.find(isRight) ?? {
      id: newId('ro'),
      name: freeName(`Visitors of ${form.name}`, design.roles),
      description: `Adds to ${name} with the public form, and sees nothing.`,
      everything: false,
      grants: [grantOf(newId('gr'), form.table, { see: false, add: true })],
      menu: [],
    }
  );
}
const freeName = (name: string, roles: readonly Role[]): string => (roles.some((role) => role.name === name) ? freeName(`${name} 2`, roles) : name);

function Terms({ form, saved, onChange }: { readonly form: OpenToAll; readonly saved: Form; readonly onChange: (form: Form) => void }) {
  const app = useApp();
  const { design } = app;
  const { leftOut } = publicFields(design, form);
  const address = `${window.location.origin}/public/${app.id}/${form.id}`;
  const embedding = `<script src="${window.location.origin}/embed.js" async></script>\n<bibliona-form form="${app.id}/${form.id}"></bibliona-form>`;
  const { data } = useQuery({
    queryKey: [...keys.app(app.id), 'public form', form.id],
    queryFn: () => call(contract.countPublicForm, { params: { app: app.id, form: form.id } }),
  });
  /** Empty settings are left out. */
  const set = (part: { readonly [K in keyof PublicForm]?: PublicForm[K] | undefined }): void => {
    const next = Object.fromEntries(Object.entries({ ...form.public, ...part }).filter(([, value]) => value !== undefined && value !== ''));
    onChange({ ...form, public: next as unknown as PublicForm });
  };
  const wrong = PublicForm.safeParse(form.public).error?.issues ?? [];
  const wrongAt = (key: string): string | undefined => wrong.find((issue) => issue.path[0] === key)?.message;
  const { question } = form.public;
  return (
    <>
      {publicProblems(design, form).map((text) => (
        <Note key={text} kind="bad">
          {text}
        </Note>
      ))}
      {saved.public === undefined ? <p className="q sm">Save the form to open its address.</p> : <Copied label="Address" text={address} link={address} />}
      {data !== undefined && data.sent > 0 && (
        <p className="q sm">{data.sent === 1 ? '1 record was sent' : `${locale().count(data.sent)} records were sent`} with it so far.</p>
      )}
      {leftOut.length > 0 && (
        <p className="q sm">Visitors are not asked for {leftOut.map((field) => field.name).join(', ')}: only people of the app can fill that in.</p>
      )}
      <TextField
        select
        label="Adds records as the role"
        value={form.public.role}
        onChange={(event) => set({ role: event.target.value })}
        helperText="Its permissions to add hold for visitors. They never see a record."
      >
        {design.roles.map((role) => (
          <MenuItem key={role.id} value={role.id}>
            {role.name}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        label="Question that keeps programs out"
        value={question?.text ?? ''}
        placeholder="What do bees make?"
        onChange={(event) => set({ question: event.target.value === '' ? undefined : { answers: question?.answers ?? [], text: event.target.value } })}
        helperText="Empty: none is asked."
      />
      {question !== undefined && (
        <Lines
          label="Answers that will do"
          values={question.answers}
          onChange={(answers) => set({ question: { ...question, answers } })}
          hint={wrongAt('question') === undefined ? 'One per line. The case of letters does not matter.' : 'Enter at least one answer.'}
          isWrong={wrongAt('question') !== undefined}
        />
      )}
      <TextField
        type="date"
        label="Closed from"
        value={form.public.closedFrom ?? ''}
        onChange={(event) => set({ closedFrom: event.target.value })}
        slotProps={{ inputLabel: { shrink: true } }}
        helperText="Empty: it stays open."
      />
      <TextField
        label="Closed after so many records"
        value={form.public.most ?? ''}
        onChange={(event) => {
          const most = Number(event.target.value.replaceAll(/\D/gu, ''));
          set({ most: most > 0 ? most : undefined });
        }}
        slotProps={{ htmlInput: { inputMode: 'numeric' } }}
      />
      <TextField
        label="Shown when it is closed"
        value={form.public.closedText ?? ''}
        placeholder="This form is closed."
        onChange={(event) => set({ closedText: event.target.value })}
        multiline
      />
      <Lines
        label="Websites that can show it"
        values={form.public.sites}
        onChange={(sites) => set({ sites })}
        hint={wrongAt('sites') === undefined ? 'One per line, such as https://example.org' : `Each ${wrongAt('sites') ?? ''}`}
        isWrong={wrongAt('sites') !== undefined}
      />
      {form.public.sites.length > 0 && <Copied label="Put this into a page there" text={embedding} />}
    </>
  );
}

function Lines(props: {
  readonly label: string;
  readonly values: readonly string[];
  readonly onChange: (values: readonly string[]) => void;
  readonly hint: string;
  readonly isWrong: boolean;
}) {
  const { label, values, onChange, hint, isWrong } = props;
  // An empty line is one that is still to be written.
  const [text, setText] = useState(values.join('\n'));
  const linesOf = (of: string): readonly string[] => of.split('\n').flatMap((line) => (line.trim() === '' ? [] : [line.trim()]));
  const shown = JSON.stringify(linesOf(text)) === JSON.stringify(values) ? text : values.join('\n');
  return (
    <TextField
      label={label}
      value={shown}
      onChange={(event) => {
        setText(event.target.value);
        onChange(linesOf(event.target.value));
      }}
      helperText={hint}
      error={isWrong}
      multiline
    />
  );
}

/** A text to take elsewhere. */
function Copied({ label, text, link }: { readonly label: string; readonly text: string; readonly link?: string }) {
  const [isCopied, setCopied] = useState(false);
  return (
    <div className="copied">
      <TextField label={label} value={text} multiline slotProps={{ htmlInput: { readOnly: true } }} />
      <div className="copied-foot">
        <Button
          onClick={() => {
            void navigator.clipboard.writeText(text).then(() => setCopied(true));
          }}
        >
          {isCopied ? 'Copied' : 'Copy'}
        </Button>
        {link !== undefined && (
          <Button component="a" href={link} target="_blank" rel="noopener">
            Open it
          </Button>
        )}
      </div>
    </div>
  );
}
