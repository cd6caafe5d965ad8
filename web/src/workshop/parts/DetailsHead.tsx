import type { TargetName } from '@bibliona/core';
import { WhereUsed } from './WhereUsed.js';

interface DetailsHeadProps {
  readonly kind: string;
  readonly title: string;
  /** The part that it is about, where others can use it. */
  readonly of?: { readonly to: TargetName; readonly id: string };
}

/** The head of the details: the kind of what is chosen, what it is called and where it is used. */
export function DetailsHead({ kind, title, of }: DetailsHeadProps) {
  return (
    <header>
      <div className="kind">
        {kind}
        {of !== undefined && <WhereUsed {...of} />}
      </div>
      <h2>{title}</h2>
    </header>
  );
}
