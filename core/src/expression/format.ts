import { namesFor } from './check.js';
import { membersOf } from './names.js';
import { key } from '../feel/names.js';
import { parse } from '../feel/parse.js';
import type { Scope } from './scope.js';
import { write } from '../feel/write.js';

/** How a name is spelled in a design; names of the expression itself stay as they are. */
export function spelling(scope: Scope): (name: string) => string {
  const known = new Map(scope.design.tables.flatMap((table) => membersOf(scope.design, table.id).map((member) => [key(member.name), member.name] as const)));
  return (name) => known.get(name) ?? name;
}

/** The text with even spacing and no needless brackets; as it is when it cannot be read or holds remarks. */
export function format(text: string, scope: Scope): string {
  if (/\/\/|\/\*/u.test(text)) return text;
  const { syntax } = parse(text, namesFor(scope));
  return syntax === null ? text : write(syntax, spelling(scope));
}
