import { createContext, useContext } from 'react';

/** Set around what a builder looks at as another person or role: what is read there is asked for as them. */
export const AskedAs = createContext<{ readonly lookAs?: string }>({});
export const useAskedAs = (): { readonly lookAs?: string } => useContext(AskedAs);
