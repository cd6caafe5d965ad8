import { contract } from '@bibliona/core';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQueryClient } from '@tanstack/react-query';
import { useForm } from 'react-hook-form';
import { useNavigate, useSearchParams } from 'react-router';
import { call, messageOf } from '../state/api.js';
import { keys } from '../state/keys.js';
import { Mark } from '../ui/Mark.js';
import { Note } from '../ui/Note.js';

/** Only a path of ours: an address with another host in it must not be followed. */
const ownPath = (to: string | null): string => (to !== null && /^\/(?![/\\])/u.test(to) ? to : '/');

export function SignIn() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const { register, handleSubmit, setError, setFocus, formState } = useForm({ defaultValues: { email: '', password: '' } });
  const { errors, isSubmitting } = formState;
  const send = handleSubmit(async (body) => {
    try {
      const { person } = await call(contract.signIn, { body });
      client.clear();
      client.setQueryData(keys.me, { person, needsSetUp: false });
      await navigate(ownPath(search.get('to')), { replace: true });
    } catch (error) {
      setError('root', { message: messageOf(error) });
      setFocus('password', { shouldSelect: true });
    }
  });
  return (
    <main className="alone">
      <form className="door" onSubmit={(event) => void send(event)} noValidate>
        <div className="door-head">
          <Mark />
          <h1>Bibliona</h1>
        </div>
        <TextField
          label="Mail address"
          type="email"
          autoComplete="username"
          autoFocus
          error={errors.email !== undefined}
          helperText={errors.email?.message}
          {...register('email', { required: 'Enter your mail address' })}
        />
        <TextField
          label="Password"
          type="password"
          autoComplete="current-password"
          error={errors.password !== undefined}
          helperText={errors.password?.message}
          {...register('password', { required: 'Enter your password' })}
        />
        {errors.root !== undefined && <Note kind="bad">{errors.root.message}</Note>}
        <Button type="submit" variant="contained" loading={isSubmitting}>
          Sign in
        </Button>
      </form>
    </main>
  );
}
