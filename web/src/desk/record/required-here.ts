import { createContext, type RefObject } from 'react';

/** The fields that the form at hand requires as it is filled now, beyond those that their table requires. */
export const RequiredHere = createContext<RefObject<Set<string>>>({ current: new Set() });
