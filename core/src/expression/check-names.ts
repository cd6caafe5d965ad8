/** Checking names: what they mean where they are, by themselves or behind a dot, and what might have been meant. */
import { parentOf, tableOf } from '../design/read.js';
import type { Checker } from './checker.js';
import { kindOf, partsOfField } from '../fields/kinds.js';
import { builtIns } from '../feel/functions/functions.js';
import { digitsOfColumn, digitsOfResult } from '../feel/limits.js';
import { memberCalled, membersOf, type Member } from './names.js';
import { feelName, key, nearest } from '../feel/names.js';
import type { Node } from './node.js';
import { namedParts } from '../feel/date-parts.js';
import { entriesOfMe, meEntries } from './scope.js';
import type { At } from '../feel/syntax.js';
import { listOf, types, type Type } from '../feel/types.js';

export function checkName(checker: Checker, at: At, name: string): Node {
  for (let i = checker.locals.length - 1; i >= 0; i -= 1) {
    const local = checker.locals[i];
    if (local === undefined) continue;
    const variable: Node = {
      from: at.from,
      to: at.to,
      kind: 'variable',
      variable: local.variable,
      type: local.type,
      digits: local.type.kind === 'number' ? digitsOfResult : undefined,
    };
    if (local.name === name) return variable;
    const inside = local.opens ? member(checker, variable, name, at, at) : null;
    if (inside !== null) return inside;
  }
  if (checker.scope.table !== null) {
    const self: Node = { from: at.from, to: at.to, kind: 'self', table: checker.scope.table, type: { kind: 'record', table: checker.scope.table } };
    const own = member(checker, self, name, at, at);
    if (own !== null) return own;
  }
  if (name === 'me') return checker.refuse(at, 'me is the person who looks: write me.Name, me.Mail or me.Roles.');
  return unknown(checker, at, name);
}

function unknown(checker: Checker, at: At, name: string): never {
  const { design, table } = checker.scope;
  const known = [
    ...checker.locals.map((local) => local.name),
    ...checker.locals.flatMap((local) => (local.opens ? namesIn(checker, local.type) : [])),
    ...(table === null ? [] : membersOf(design, table).map((each) => each.name)),
  ];
  const near = nearest(name, known);
  if (builtIns.some((builtIn) => builtIn.name === name)) return checker.refuse(at, `${name} is a function: it needs brackets, ${name}( ).`);
  const where = table === null ? 'Here' : `${tableOf(design, table).name}`;
  if (near !== null) return checker.refuse(at, `${where} has nothing called “${name}”. Did you mean ${near}?`, near);
  const elsewhere = design.tables.find((each) => memberCalled(design, each.id, name) !== undefined);
  return checker.refuse(
    at,
    `${where} has nothing called “${name}”.${elsewhere === undefined ? ' Put text in double quotes.' : ` ${elsewhere.name} has; walk there with a dot.`}`,
  );
}

function namesIn(checker: Checker, type: Type): readonly string[] {
  if (type.kind === 'record') return membersOf(checker.scope.design, type.table).map((each) => each.name);
  return type.kind === 'context' ? Object.keys(type.entries) : namedParts(type);
}

/** What a name gives of a record or of named values; null when there is no such name. */
function member(checker: Checker, of: Node, name: string, at: At, nameAt: At): Node | null {
  if (of.type.kind === 'context') {
    const type = of.type.entries[name];
    return type === undefined ? null : { from: at.from, to: at.to, kind: 'entry', of, name, type, digits: type.kind === 'number' ? digitsOfResult : undefined };
  }
  if (of.type.kind !== 'record') return null;
  const found = memberCalled(checker.scope.design, of.type.table, name);
  return found === undefined ? null : walk(checker, of, found, at, nameAt);
}

function walk(checker: Checker, of: Node, to: Member, at: At, nameAt: At): Node {
  const { design } = checker.scope;
  if (to.kind === 'children')
    return {
      from: at.from,
      to: at.to,
      kind: 'children',
      of,
      relationship: to.relationship,
      nameAt,
      type: listOf({ kind: 'record', table: to.relationship.child }),
    };
  const { field } = to;
  if (field.kind === 'reference') {
    const table = parentOf(design, field).id;
    return { from: at.from, to: at.to, kind: 'parent', of, field, table, nameAt, type: { kind: 'record', table } };
  }
  if (field.kind === 'formula') {
    const table = of.type.kind === 'record' ? of.type.table : '';
    const body = checker.formulaOf(table, field, nameAt);
    return { from: at.from, to: at.to, kind: 'formula', of, field, body, nameAt, type: body.type, digits: body.digits };
  }
  const table = of.type.kind === 'record' ? of.type.table : '';
  const type = kindOf(field).feel.type(field, table) ?? types.null;
  return { from: at.from, to: at.to, kind: 'field', of, field, nameAt, type, digits: type.kind === 'number' ? digitsOfColumn : undefined };
}

/** What a name behind a dot gives of what is before it; `of` is null behind `me`. */
export function checkPath(checker: Checker, at: At, name: string, nameAt: At, of: Node | null): Node {
  if (of === null) {
    const tie = checker.scope.design.ties.find((ty) => key(feelName(ty.name)) === name);
    if (tie !== undefined) return { from: at.from, to: at.to, kind: 'tied', tie, type: { kind: 'record', table: tie.table } };
    const type = (meEntries as Readonly<Record<string, Type>>)[name];
    if (type === undefined) {
      const known = Object.keys(entriesOfMe(checker.scope.design));
      const entries = known.map((each) => `me.${each}`);
      return checker.refuse(
        nameAt,
        `The person has nothing called “${name}”: there are ${entries.slice(0, -1).join(', ')} and ${entries.at(-1) ?? ''}.`,
        nearest(name, known) ?? undefined,
      );
    }
    return { from: at.from, to: at.to, kind: 'me', entry: name as keyof typeof meEntries, type };
  }
  if (of.type.kind === 'list' && (of.type.of.kind === 'record' || of.type.of.kind === 'context')) {
    const variable = checker.newVariable();
    const element: Node = { from: at.from, to: at.to, kind: 'variable', variable, type: of.type.of };
    const body = member(checker, element, name, at, nameAt) ?? nothingCalled(checker, nameAt, name, of.type.of);
    return { from: at.from, to: at.to, kind: 'project', of, variable, body, type: listOf(body.type) };
  }
  const inside = within(at, name, of);
  if (inside !== null) return inside;
  if (of.type.kind === 'null') return { from: at.from, to: at.to, kind: 'constant', value: null, type: types.null };
  const found = member(checker, of, name, at, nameAt);
  if (found !== null) return found;
  const parts = namedParts(of.type);
  // The parts of a text are those of the field that it is in.
  if (!parts.includes(name) || of.type.kind === 'string') return nothingCalled(checker, nameAt, name, of.type);
  const type = of.type.kind === 'range' ? (name.endsWith('included') ? types.boolean : of.type.of) : types.number;
  return { from: at.from, to: at.to, kind: 'part', of, part: name, type, digits: type.kind === 'number' ? digitsOfResult : undefined };
}

/** A part of a stored value, or of each in a list of them; null when there is none. */
function within(at: At, name: string, of: Node): Node | null {
  if (of.kind === 'project') {
    const body = within(of.body, name, of.body);
    return body === null ? null : { ...of, from: at.from, to: at.to, body, type: listOf(body.type) };
  }
  const part = of.kind === 'field' ? partsOfField(of.field)[name] : undefined;
  if (of.kind !== 'field' || part === undefined) return null;
  const { type } = part;
  return { from: at.from, to: at.to, kind: 'within', of, part: name, type, digits: type.kind === 'number' ? digitsOfColumn : undefined };
}

function nothingCalled(checker: Checker, at: At, name: string, type: Type): never {
  const near = nearest(name, namesIn(checker, type));
  const what = type.kind === 'record' ? tableOf(checker.scope.design, type.table).name : checker.typeInWords(type);
  const inside = namesIn(checker, type);
  if (near !== null) return checker.refuse(at, `${what} has nothing called “${name}”. Did you mean ${near}?`, near);
  return checker.refuse(
    at,
    inside.length === 0
      ? `This is ${checker.typeInWords(type)}: it has no parts to name after a dot.`
      : `${what} has nothing called “${name}”. It has ${inside.slice(0, 6).join(', ')}${inside.length > 6 ? ' and more' : ''}.`,
  );
}
