/** What forms and lists have in common. */
import type { Form } from '../design/form.js';
import type { List } from '../design/list.js';
import { staying, withParts, type Onlooker } from './part.js';

/** A form or list as a member knows it: which other roles work with it is not told. */
export function forMembers<S extends Form | List>(part: S, member: Onlooker): S | null {
  if (!member.reaches(part.table)) return null;
  const roles = staying(part.roles, member.holds);
  if (roles.length === 0 && part.roles.length > 0) return null;
  return withParts(part, { roles } as Partial<S>);
}
