import type { ReactNode } from 'react';

/** What the product itself found doubtful in what is being designed. */
export function Findings({
  what,
  count,
  children,
}: {
  /** Completes "on this …". */ readonly what: string;
  readonly count: number;
  readonly children: ReactNode;
}) {
  return (
    <section className="findings" aria-label="Findings">
      <h2>
        Findings{' '}
        <span className="q sm">
          {count} on this {what}
        </span>
      </h2>
      <ul>{children}</ul>
    </section>
  );
}

/** One of them, in a sentence, with its fixes at the end. */
export function Finding({ children, fixes }: { readonly children: ReactNode; readonly fixes: ReactNode }) {
  return (
    <li>
      <i className="loz-mark" aria-hidden="true" />
      <span className="grow">{children}</span>
      {fixes}
    </li>
  );
}
