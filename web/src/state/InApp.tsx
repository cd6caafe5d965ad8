import type { ReactNode } from 'react';
import { AppContext, useOpenedApp } from './app.js';

/** What is inside works in the app of the address, and is drawn once that is open. */
export function InApp({ children }: { readonly children: ReactNode }) {
  return <AppContext value={useOpenedApp()}>{children}</AppContext>;
}
