import { createContext } from 'react';

/** Closes the window in which a record is open over its list; null: it is on a page of its own. */
export const InWindow = createContext<(() => void) | null>(null);
