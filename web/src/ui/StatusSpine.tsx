import type { StatusKind } from '@bibliona/core';

/** The spine of a status: outlined where it begins, half full at work, banded while it waits, full when done, struck when ended. */
export function StatusSpine({ kind }: { readonly kind: StatusKind }) {
  return (
    <svg className={`spine spine-${kind}`} viewBox="0 0 7 15" width="7" height="15" preserveAspectRatio="none" aria-hidden="true">
      <rect x=".5" y=".5" width="6" height="14" className="edge" />
      {kind === 'work' && <rect x="1" y="7.5" width="5" height="6.5" className="fill" />}
      {kind === 'done' && <rect x="1" y="1" width="5" height="13" className="fill" />}
      {kind === 'wait' && <path d="M1 1h5v3.6H1zM1 5.7h5v3.6H1zM1 10.4h5V14H1z" className="fill" />}
      {kind === 'ended' && <path d="M1 14 6 1" className="stroke" />}
    </svg>
  );
}
