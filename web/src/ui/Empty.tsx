import type { ReactNode } from 'react';

/** What would be here, why there is nothing yet, and the one thing to do about it. */
export function Empty({
  title,
  children,
  action,
  isPage = false,
}: {
  readonly title: string;
  readonly children?: ReactNode;
  readonly action?: ReactNode;
  /** Whether it is all there is on the page: then the title is its heading. */
  readonly isPage?: boolean;
}) {
  return (
    <div className="empty">
      {isPage ? <h1 className="empty-title">{title}</h1> : <p className="empty-title">{title}</p>}
      {children !== undefined && <p className="q">{children}</p>}
      {action}
    </div>
  );
}
