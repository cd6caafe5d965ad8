import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { contract, grantOf, publicFields, publicProblems, PublicForm, tableOf, type Form, type OpenToAll, type Role } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { Copied } from '../published/Copied.js';
import { Lines } from '../published/Lines.js';
import { PublicSwitch } from '../published/PublicSwitch.js';
import { freeRoleName } from '../published/visitor-roles.js';
import { WebsiteFields } from '../published/WebsiteFields.js';
import { call } from '../../state/api.js';
import { newId, useApp, type AppInHand } from '../../state/app.js';
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
  const close = (): void => {
    const { public: _, ...rest } = form;
    onChange(rest);
  };
  return (
    <PublicSwitch
      label="Anyone can fill it in, without signing in"
      isPublic={form.public !== undefined}
      role={() => addingRole(app, form)}
      onOpen={(role) => onChange({ ...form, public: { role, sites: [] } })}
      onClose={close}
    >
      {form.public !== undefined && <Terms form={form as OpenToAll} saved={saved} onChange={onChange} />}
    </PublicSwitch>
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
      name: freeRoleName(`Visitors of ${form.name}`, design.roles),
      description: `Adds to ${name} with the public form, and sees nothing.`,
      everything: false,
      grants: [grantOf(newId('gr'), form.table, { see: false, add: true })],
      menu: [],
    }
  );
}

function Terms({ form, saved, onChange }: { readonly form: OpenToAll; readonly saved: Form; readonly onChange: (form: Form) => void }) {
  const app = useApp();
  const { design } = app;
  const { leftOut } = publicFields(design, form);
  const address = `${window.location.origin}/public/${app.id}/${form.id}`;
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
      <WebsiteFields app={app.id} kind="form" name={form.id} sites={form.public.sites} problem={wrongAt('sites')} onChange={(sites) => set({ sites })} />
    </>
  );
}
