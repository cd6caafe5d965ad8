import type { ReactNode } from 'react';
import { useToldHeight } from './framed.js';

interface Props {
  readonly name: string;
  /** Its name stands on what is shown already: above it, it is only said. */
  readonly isNamed?: boolean;
  /** As wide as a form, as there is room, or no wider than a tile. */
  readonly size?: 'form' | 'wide' | 'tile';
  readonly children: ReactNode;
}

/** What visitors see at a public address: one sheet. */
export function PublicSheet({ name, isNamed = false, size = 'form', children }: Props) {
  useToldHeight();
  return (
    <main className="public-page" aria-label={name}>
      <div className={`public-sheet of-${size}`}>
        <h1 className={isNamed ? 'vh' : ''}>{name}</h1>
        {children}
      </div>
    </main>
  );
}
