import { Suspense } from 'react';
import { Navigate, Outlet, useLocation } from 'react-router';
import { useLocaleOf } from '../state/locale.js';
import { useSession } from '../state/session.js';
import { Waiting } from '../ui/Waiting.js';

/** Everything below needs a person: after signing in they come to where they wanted. */
export function SignedInOnly() {
  const session = useSession();
  useLocaleOf(session.person);
  const { pathname, search } = useLocation();
  if (session.person === null) return <Navigate to={session.needsSetUp ? '/set-up' : `/sign-in?to=${encodeURIComponent(pathname + search)}`} replace />;
  return <Loaded />;
}

/** A screen whose code is loaded when it is opened. */
export function Loaded() {
  return (
    <Suspense fallback={<Waiting />}>
      <Outlet />
    </Suspense>
  );
}
