/** What parts that can be public have in common: the role that visitors have there. */
import type { Gone, Reference } from './part.js';

type Publishable = { readonly public?: { readonly role: string } | undefined };

/** The role through which visitors see it or fill it in. */
export const visitorRole = (part: Publishable): readonly Reference[] => (part.public === undefined ? [] : [{ to: 'role', id: part.public.role }]);

/** The part without what makes it public; the same part if nothing does. */
export function forPeopleOnly<P extends Publishable>(part: P): P {
  if (part.public === undefined) return part;
  const { public: _, ...rest } = part;
  return rest as P;
}

/** What is left of it: without the role that visitors have there it is for people of the app again. */
export const withoutVisitors = <P extends Publishable>(part: P, gone: Gone): P =>
  part.public !== undefined && gone.has('role', part.public.role) ? forPeopleOnly(part) : part;
