import { contract } from '@bibliona/core';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { call } from '../state/api.js';
import { useEnter } from '../state/session.js';
import { Door, DoorForm, mailAddress } from './Door.js';

/** Only a path of ours: an address with another host in it must not be followed. */
const ownPath = (to: string | null): string => (to !== null && /^\/(?![/\\])/u.test(to) ? to : '/');

/** A person with one app starts in it. With several apps or an open invitation they start in the list of apps. */
async function firstPlace(): Promise<string> {
  try {
    const [{ apps }, { invitations }] = await Promise.all([call(contract.listApps), call(contract.myInvitations)]);
    const [only] = apps;
    return only !== undefined && apps.length === 1 && invitations.length === 0 ? `/desk/${only.id}` : '/';
  } catch {
    return '/';
  }
}

export default function SignIn() {
  const enter = useEnter();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  return (
    <Door title="Bibliona">
      <DoorForm
        fields={[
          { ...mailAddress, name: 'email' },
          { name: 'password', label: 'Password', type: 'password', autoComplete: 'current-password', required: 'Enter your password' },
        ]}
        start={{ email: '', password: '' }}
        verb="Sign in"
        onSend={async (body) => {
          enter((await call(contract.signIn, { body })).person);
          const to = ownPath(search.get('to'));
          await navigate(to === '/' ? await firstPlace() : to, { replace: true });
        }}
      >
        <Link className="lk" to="/forgot">
          Forgot your password?
        </Link>
      </DoorForm>
    </Door>
  );
}
