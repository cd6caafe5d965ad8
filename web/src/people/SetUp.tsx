import { contract } from '@bibliona/core';
import { useLocation, useNavigate } from 'react-router';
import { call } from '../state/api.js';
import { useEnter } from '../state/session.js';
import { Door, DoorForm, mailAddress, newPassword, type DoorField } from './Door.js';

interface Values extends Record<string, string> {
  key: string;
  name: string;
  email: string;
  password: string;
}

/** Makes the first person of an installation. The key is in the address that the server printed, after the #. */
export default function SetUp() {
  const enter = useEnter();
  const navigate = useNavigate();
  const { hash } = useLocation();
  const key: DoorField<Values> = { name: 'key', label: 'Set-up key', autoComplete: 'off', required: 'Copy the key that the server printed when it started' };
  return (
    <Door title="Welcome to Bibliona">
      <p className="q">This server has no people yet. You are the first, and you administer it.</p>
      <DoorForm<Values>
        fields={[
          ...(hash === '' ? [key] : []),
          { name: 'name', label: 'Your name', autoComplete: 'name', required: 'Enter your name' },
          { ...mailAddress, name: 'email' },
          { ...newPassword, name: 'password', label: 'Password' },
        ]}
        start={{ key: hash.slice(1), name: '', email: '', password: '' }}
        verb="Start"
        onSend={async (body) => {
          enter((await call(contract.setUp, { body })).person);
          await navigate('/', { replace: true });
        }}
      />
    </Door>
  );
}
