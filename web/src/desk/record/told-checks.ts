/** What checks say of what was typed, for the inputs of a form. */
import { createContext, useContext, useState } from 'react';

/** By the path of the field at which it is told. The same as long as they say the same. */
export const BrokenChecks = createContext<ReadonlyMap<string, string>>(new Map());

/** What checks say at one field; nothing while somebody types in it, because half a value is not wrong yet. */
export function useToldCheck(path: string) {
  const broken = useContext(BrokenChecks).get(path);
  const [isTyping, setTyping] = useState(false);
  return { told: isTyping ? undefined : broken, setTyping };
}
