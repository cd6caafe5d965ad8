import { contract } from '@bibliona/core';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQueryClient } from '@tanstack/react-query';
import { useForm } from 'react-hook-form';
import { useLocation, useNavigate } from 'react-router';
import { ApiRefusal, call, messageOf } from '../state/api.js';
import { keys } from '../state/keys.js';
import { Mark } from '../ui/Mark.js';
import { Note } from '../ui/Note.js';

/** Makes the first person of an installation. The key stands in the address that the server printed, after the #. */
export function SetUp() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { hash } = useLocation();
  const { register, handleSubmit, setError, formState } = useForm({ defaultValues: { key: hash.slice(1), name: '', email: '', password: '' } });
  const { errors, isSubmitting } = formState;
  const send = handleSubmit(async (body) => {
    try {
      const { person } = await call(contract.setUp, { body });
      client.clear();
      client.setQueryData(keys.me, { person, needsSetUp: false });
      await navigate('/', { replace: true });
    } catch (error) {
      const placed = error instanceof ApiRefusal ? error.issues.filter((issue) => issue.path !== undefined && issue.path in body) : [];
      for (const issue of placed) setError(issue.path as keyof typeof body, { message: issue.message });
      if (placed.length === 0) setError('root', { message: messageOf(error) });
    }
  });
  const field = (name: 'key' | 'name' | 'email' | 'password', required: string) => ({
    ...register(name, { required }),
    error: errors[name] !== undefined,
    helperText: errors[name]?.message,
  });
  return (
    <main className="alone">
      <form className="door" onSubmit={(event) => void send(event)} noValidate>
        <div className="door-head">
          <Mark />
          <h1>Welcome to Bibliona</h1>
        </div>
        <p className="q">There is nobody here yet. Whoever looks after this server makes the first person, who can then make apps.</p>
        {hash === '' && <TextField label="Set-up key" {...field('key', 'Copy the key that the server printed when it started')} />}
        <TextField label="Your name" autoComplete="name" autoFocus {...field('name', 'Enter your name')} />
        <TextField label="Mail address" type="email" autoComplete="username" {...field('email', 'Enter your mail address')} />
        <TextField label="Password" type="password" autoComplete="new-password" {...field('password', 'Choose a password of at least 10 characters')} />
        {errors.root !== undefined && <Note kind="bad">{errors.root.message}</Note>}
        <Button type="submit" variant="contained" loading={isSubmitting}>
          Begin
        </Button>
      </form>
    </main>
  );
}
