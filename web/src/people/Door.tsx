import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import type { ReactNode } from 'react';
import { useForm, type DefaultValues, type Path } from 'react-hook-form';
import { ApiRefusal, messageOf } from '../state/api.js';
import { Mark } from '../ui/Mark.js';
import { Note } from '../ui/Note.js';

export interface DoorField<V> {
  readonly name: Path<V>;
  readonly label: string;
  readonly type?: 'email' | 'password';
  readonly autoComplete: string;
  /** What to do when it is left empty. */
  readonly required: string;
}

/** The frame of a page outside the apps: sign in, join, set up, new password. */
export function Door({ title, children }: { readonly title: string; readonly children: ReactNode }) {
  return (
    <main className="alone">
      <div className="door">
        <div className="door-head">
          <Mark />
          <h1>{title}</h1>
        </div>
        {children}
      </div>
    </main>
  );
}

/** Its form. What the server refuses is shown at the field that it is about, or above the button. */
export function DoorForm<V extends Record<string, string>>(props: {
  readonly fields: readonly DoorField<V>[];
  readonly start: DefaultValues<V>;
  readonly verb: string;
  /** It is one of several forms on a page, so it takes neither the focus nor the eye. */
  readonly isOneOfMany?: boolean;
  readonly onSend: (values: V) => Promise<void>;
  readonly children?: ReactNode;
}) {
  const { fields, start, verb, isOneOfMany = false, onSend, children } = props;
  const { register, handleSubmit, setError, setFocus, formState } = useForm<V>({ defaultValues: start });
  const { errors, isSubmitting } = formState;
  const send = handleSubmit(async (values) => {
    try {
      await onSend(values);
    } catch (error) {
      const placed = error instanceof ApiRefusal ? error.issues.filter((issue) => fields.some((field) => field.name === issue.path)) : [];
      for (const issue of placed) setError(issue.path as Path<V>, { message: issue.message });
      if (placed.length === 0) setError('root', { message: messageOf(error) });
      const last = fields.at(-1);
      if (last !== undefined) setFocus(last.name, { shouldSelect: true });
    }
  });
  return (
    <form className="door-form" onSubmit={(event) => void send(event)} noValidate>
      {fields.map((field, i) => {
        const message = errors[field.name]?.message;
        return (
          <TextField
            key={field.name}
            label={field.label}
            type={field.type ?? 'text'}
            autoComplete={field.autoComplete}
            autoFocus={i === 0 && !isOneOfMany}
            error={message !== undefined}
            helperText={typeof message === 'string' ? message : undefined}
            {...register(field.name, { required: field.required })}
          />
        );
      })}
      {errors.root !== undefined && <Note kind="bad">{errors.root.message}</Note>}
      <Button type="submit" variant={isOneOfMany ? 'outlined' : 'contained'} loading={isSubmitting}>
        {verb}
      </Button>
      {children}
    </form>
  );
}

export const newPassword = { label: 'New password', type: 'password', autoComplete: 'new-password', required: 'Enter at least 10 characters' } as const;
export const mailAddress = { label: 'Mail address', type: 'email', autoComplete: 'username', required: 'Enter your mail address' } as const;
