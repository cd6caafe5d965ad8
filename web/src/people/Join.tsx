import { contract } from '@bibliona/core';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useForm } from 'react-hook-form';
import { useNavigate, useParams } from 'react-router';
import { ApiRefusal, call, messageOf } from '../state/api.js';
import { keys } from '../state/keys.js';
import { Mark } from '../ui/Mark.js';
import { Note } from '../ui/Note.js';

/** Where the link of an invitation leads: who one is, and a password. */
export function Join() {
  const { token = '' } = useParams();
  const client = useQueryClient();
  const navigate = useNavigate();
  const invitation = useQuery({ queryKey: ['invitation', token], queryFn: () => call(contract.readInvitation, { params: { token } }), retry: false });
  const { register, handleSubmit, setError, formState } = useForm({ defaultValues: { name: '', password: '' } });
  const { errors, isSubmitting } = formState;
  const send = handleSubmit(async (body) => {
    try {
      const { person, app } = await call(contract.acceptInvitation, { params: { token }, body });
      client.clear();
      client.setQueryData(keys.me, { person, needsSetUp: false });
      await navigate(`/desk/${app}`, { replace: true });
    } catch (error) {
      const placed = error instanceof ApiRefusal ? error.issues.filter((issue) => issue.path !== undefined && issue.path in body) : [];
      for (const issue of placed) setError(issue.path as keyof typeof body, { message: issue.message });
      if (placed.length === 0) setError('root', { message: messageOf(error) });
    }
  });
  const field = (name: 'name' | 'password', required: string) => ({
    ...register(name, { required }),
    error: errors[name] !== undefined,
    helperText: errors[name]?.message,
  });
  return (
    <main className="alone">
      <form className="door" onSubmit={(event) => void send(event)} noValidate>
        <div className="door-head">
          <Mark />
          <h1>{invitation.data === undefined ? 'Bibliona' : `Join ${invitation.data.app}`}</h1>
        </div>
        {invitation.isError && <Note kind="bad">{messageOf(invitation.error)}</Note>}
        {invitation.data !== undefined && (
          <>
            <p className="q">You sign in as {invitation.data.email}.</p>
            <TextField label="Your name" autoComplete="name" autoFocus {...field('name', 'Enter your name')} />
            <TextField label="Password" type="password" autoComplete="new-password" {...field('password', 'Choose a password of at least 10 characters')} />
            {errors.root !== undefined && <Note kind="bad">{errors.root.message}</Note>}
            <Button type="submit" variant="contained" loading={isSubmitting}>
              Join
            </Button>
          </>
        )}
      </form>
    </main>
  );
}
