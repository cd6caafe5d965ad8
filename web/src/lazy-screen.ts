import { lazy, type ComponentType, type LazyExoticComponent } from 'react';
import { screens, type ScreenName } from './screens.js';

interface Module {
  readonly default: ComponentType;
}
const arrived = new Map<ScreenName, Module>();

/** Brings a screen before anything is drawn. Raises what loading it raises. */
export async function bringScreen(name: ScreenName): Promise<void> {
  arrived.set(name, await screens[name]());
}

/**
 * A screen that is loaded when it is first drawn. One that was brought is drawn at once: with a promise, even a kept one, React would
 * draw what stands for the screen meanwhile, and leave that for 300 ms.
 */
export const lazyScreen = (name: ScreenName): LazyExoticComponent<ComponentType> =>
  lazy(() => {
    const module = arrived.get(name);
    if (module === undefined) return screens[name]();
    // React reads what `then` tells before it gives control back.
    return { then: (told: (module: Module) => void) => told(module) } as unknown as Promise<Module>;
  });
