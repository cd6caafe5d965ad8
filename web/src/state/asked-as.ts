import { createContext, useContext } from 'react';

/** As whom a builder asks; empty: as the person at hand. */
export interface AskedAs {
  readonly lookAs?: string;
}
/** Set around what a builder looks at as another person or role: what is read there is asked for as them. */
export const AskedAsContext = createContext<AskedAs>({});
export const useAskedAs = (): AskedAs => useContext(AskedAsContext);
