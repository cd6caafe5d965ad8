/** Checking an expression as a whole: from its text to the tree that both engines read, or to what is wrong with it. */
import type { LRParser } from '@lezer/lr';
import type { AppDesign, Field, TableId } from '../design/design.js';
import { tableOf } from '../design/read.js';
import { Checker } from './checker.js';
import { builtIns } from '../feel/functions/functions.js';
import { parserFor } from '../feel/grammar.js';
import { knownNames } from './names.js';
import type { NameSet } from '../feel/names.js';
import type { Node } from './node.js';
import { unitOf } from './unit.js';
import type { Unit } from '../values/units.js';
import { parse } from '../feel/parse.js';
import { Refusing, type Checked, type Local, type Scope } from './scope.js';
import { wants, type Wanted } from '../feel/wants.js';
import { describeType, type Type } from '../feel/types.js';

const functionNames = builtIns.map((builtIn) => builtIn.name);
/** The names known while an expression is read at its place. */
export const namesFor = (scope: Scope, narrow = false): NameSet => knownNames(scope.design, scope.table, functionNames, narrow);

/** The grammar with the names of a place: what colours a text in an editor. */
export const expressionParser = (scope: Scope): LRParser => parserFor(namesFor(scope));

const checkedCache = new WeakMap<AppDesign, Map<string, Checked>>();
const mostKept = 20_000;

/**
 * Reads and checks an expression. Never throws on what people write. Every request asks for the same few expressions of
 * a design, so what came out is kept with it.
 */
export function check(text: string, scope: Scope, wanted: Wanted = wants.plain): Checked {
  let ofDesign = checkedCache.get(scope.design);
  if (ofDesign === undefined) checkedCache.set(scope.design, (ofDesign = new Map<string, Checked>()));
  const name = `${scope.table ?? ''} ${text}`;
  let result = ofDesign.get(name);
  if (result === undefined) {
    result = checkAnew(text, scope);
    // What is refused within a formula that is being checked may be a circle only there.
    if (result.ok || !underway.has(scope.design)) ofDesign.set(name, result);
    // The oldest goes: what is asked for again and again is soon there anew.
    if (ofDesign.size > mostKept) ofDesign.delete(ofDesign.keys().next().value as string);
  }
  return fitting(result, scope, wanted);
}

function fitting(result: Checked, scope: Scope, wanted: Wanted): Checked {
  if (!result.ok || wanted.fits(result.node.type)) return result;
  const { from, to, type } = result.node;
  return { ok: false, problems: [{ from, to, message: `This must be ${wanted.description}. It is ${describeType(type, scope.design)}.` }] };
}

/** What was read for a design is taken over for another that has grown out of it, as far as the change between them touches no name of it. */
export function inheritChecked(before: AppDesign, after: AppDesign, canTouch: (text: string, table: TableId | null) => boolean): void {
  const known = checkedCache.get(before);
  if (known === undefined || before === after) return;
  const own = checkedCache.get(after) ?? new Map<string, Checked>();
  checkedCache.set(after, own);
  for (const [name, checked] of known) {
    const blank = name.indexOf(' ');
    if (!own.has(name) && checked.ok && !canTouch(name.slice(blank + 1), blank === 0 ? null : name.slice(0, blank))) own.set(name, checked);
  }
}

function checkAnew(text: string, scope: Scope): Checked {
  const all = namesFor(scope);
  const wide = checkWith(text, scope, all);
  if (wide.ok) return wide;
  const own = namesFor(scope, true);
  // Where no other table has a name with a mark in it there is only one reading.
  if (all.keys.size === own.keys.size) return wide;
  const narrow = checkWith(text, scope, own);
  return narrow.ok ? narrow : wide;
}

function checkWith(text: string, scope: Scope, known: NameSet): Checked {
  const parsed = parse(text, known);
  if (parsed.syntax === null) return { ok: false, problems: parsed.problems };
  try {
    const checker = new Checker(scope, formulaBody);
    const node = checker.node(parsed.syntax, 0);
    return { ok: true, node, weight: checker.weight };
  } catch (error) {
    if (error instanceof Refusing) return { ok: false, problems: [error.problem] };
    throw error;
  }
}

/** The type of a stretch of an expression, with what is bound around it; null when it cannot be told. */
export const typeOfPart = (text: string, scope: Scope, locals: readonly Local[] = []): Type | null => partOf(text, scope, locals)?.type ?? null;
/** What the numbers of a part of an expression count. */
export function unitOfPart(text: string, scope: Scope): Unit | null {
  const node = partOf(text, scope, []);
  return node === null ? null : unitOf(node);
}

function partOf(text: string, scope: Scope, locals: readonly Local[]): Node | null {
  const { syntax } = parse(text, namesFor(scope));
  if (syntax === null) return null;
  try {
    return new Checker(scope, formulaBody, locals).node(syntax, 0);
  } catch (error) {
    if (error instanceof Refusing) return null;
    throw error;
  }
}

const underway = new WeakMap<AppDesign, readonly string[]>();

/** The checked expression of a formula field. A circle of formulas is a problem that names the circle. */
function formulaBody(design: AppDesign, table: TableId, field: Extract<Field, { kind: 'formula' }>): Checked {
  const way = underway.get(design) ?? [];
  const label = `${tableOf(design, table).name}.${field.name}`;
  if (way.includes(label)) {
    const circle = [...way.slice(way.indexOf(label)), label];
    return { ok: false, problems: [{ from: 0, to: 0, message: `it goes in a circle: ${circle.join(' needs ')}` }] };
  }
  underway.set(design, [...way, label]);
  try {
    return check(field.expression, { design, table });
  } finally {
    if (way.length === 0) underway.delete(design);
    else underway.set(design, way);
  }
}
