import type { Field } from '@bibliona/core';
import { lazy, Suspense, type ComponentType, type ReactNode } from 'react';
import type { FieldInputProps } from './kind.js';

/** An input that few forms have, loaded where it is shown. Its place is kept by an empty one of the same class. */
export function lazyInput<F extends Field>(
  load: () => Promise<ComponentType<FieldInputProps<F>>>,
  className: string,
): (props: FieldInputProps<F>) => ReactNode {
  // The lazy component takes the same props, which its own type spells in another way.
  const Loaded = lazy(async () => ({ default: await load() })) as unknown as ComponentType<FieldInputProps<F>>;
  return (props) => (
    <Suspense fallback={<div className={className} />}>
      <Loaded {...props} />
    </Suspense>
  );
}
