import type { ReactNode } from 'react';

/** A sentence that belongs to the place where it is: what went wrong, what to look at, what went well. */
export function Note({ kind, children, action }: { readonly kind: 'bad' | 'look' | 'good'; readonly children: ReactNode; readonly action?: ReactNode }) {
  return (
    <div className={`note ${kind === 'look' ? '' : kind}`} role={kind === 'bad' ? 'alert' : 'status'}>
      <div className="grow">{children}</div>
      {action}
    </div>
  );
}
