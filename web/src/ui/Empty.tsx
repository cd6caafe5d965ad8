import type { ReactNode } from 'react';

/** What would stand here, why it does not, and the one thing to do about it. */
export function Empty({ title, children, action }: { readonly title: string; readonly children?: ReactNode; readonly action?: ReactNode }) {
  return (
    <div className="empty">
      <p className="empty-title">{title}</p>
      {children !== undefined && <p className="q">{children}</p>}
      {action}
    </div>
  );
}
