import { lazy, type ComponentType, type LazyExoticComponent } from 'react';

/** A module that is loaded when what it exports is drawn. */
interface Drawn<P> {
  readonly default: ComponentType<P>;
}

const arrived = new Map<() => Promise<object>, object>();

/** Loads a component before anything is drawn. Raises what loading it raises. */
export async function bring(load: () => Promise<object>): Promise<void> {
  arrived.set(load, await load());
}

/**
 * Like React's `lazy`, but a component that was brought is drawn at once. Given a promise, even one that is settled, React would draw the
 * fallback first and show it for at least 300 ms.
 */
export const lazyBrought = <P>(load: () => Promise<Drawn<P>>): LazyExoticComponent<ComponentType<P>> =>
  lazy(() => {
    const module = arrived.get(load) as Drawn<P> | undefined;
    if (module === undefined) return load();
    // React reads what `then` tells before it gives control back.
    return { then: (told: (module: Drawn<P>) => void) => told(module) } as unknown as Promise<Drawn<P>>;
  });
