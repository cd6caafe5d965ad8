/** What an expression depends on, and rewriting it when what it names is called otherwise. */
import type { AppDesign } from '../design/design.js';
import { tableOf } from '../design/read.js';
import { choiceNow } from '../fields/choice.js';
import { check } from './check.js';
import { membersOf } from './names.js';
import { partsOf, soughtIn, type Node } from './node.js';
import type { Scope } from './scope.js';
import type { At } from '../feel/syntax.js';
import { wants } from '../feel/wants.js';

/** A part of the design that an expression names. */
export interface Dependency {
  readonly kind: 'field' | 'relationship';
  readonly id: string;
}

/** Every node of a checked expression, those of the formulas it names left out. */
export function* everyNode(node: Node): Generator<Node> {
  yield node;
  for (const part of partsOf(node)) yield* everyNode(part);
}

/** The same with the nodes of the formulas that it names: what computing it reads. */
export function* throughFormulas(node: Node): Generator<Node> {
  for (const each of everyNode(node)) {
    yield each;
    if (each.kind === 'formula') yield* throughFormulas(each.body);
  }
}

/** What a checked expression names itself; what the formulas it names depend on is theirs. */
export function dependenciesOf(node: Node): readonly Dependency[] {
  const found = new Map<string, Dependency>();
  for (const each of everyNode(node)) {
    const named = namedBy(each);
    if (named !== null) found.set(`${named.kind} ${named.id}`, { kind: named.kind, id: named.id });
    const choice = each.kind === 'compare' ? choiceCompared(each) : null;
    if (choice !== null) found.set(`field ${choice.field}`, { kind: 'field', id: choice.field });
  }
  return [...found.values()];
}

/** The fields and relationships that computing an expression reads, by their ids; also through the formulas that it names. */
export const readBy = (node: Node): ReadonlySet<string> => new Set([...throughFormulas(node)].flatMap((each) => namedBy(each)?.id ?? []));

interface Named extends Dependency {
  readonly table: string;
  readonly at: At;
}

function namedBy(node: Node): Named | null {
  switch (node.kind) {
    case 'field':
    case 'parent':
    case 'formula':
      return node.of.type.kind === 'record' ? { kind: 'field', id: node.field.id, table: node.of.type.table, at: node.nameAt } : null;
    case 'children':
      return node.of.type.kind === 'record' ? { kind: 'relationship', id: node.relationship.id, table: node.of.type.table, at: node.nameAt } : null;
    default:
      return null;
  }
}

interface ChoiceCompared {
  readonly table: string;
  readonly field: string;
  readonly label: string;
  readonly at: At;
}
/** The label of a choice that a node compares with, or looks for among several. */
function choiceCompared(node: Node): ChoiceCompared | null {
  const sides = node.kind === 'compare' ? ([node.left, node.right] as const) : soughtIn(node);
  if (sides === null) return null;
  const [left, right] = sides;
  const [choice, text] = left.type.kind === 'choice' ? [left, right] : [right, left];
  if (choice.type.kind !== 'choice' || !('kind' in text) || text.kind !== 'constant' || typeof text.value !== 'string') return null;
  return { table: choice.type.table, field: choice.type.field, label: text.value, at: { from: text.from, to: text.to } };
}

/**
 * The expression as it has to be written in the design `after`, where fields, relationships and choices might have other
 * names; everything else of the text stays as it is. A text that cannot be read in its own design is left alone.
 */
export function renamed(text: string, scope: Scope, after: AppDesign): string {
  const checked = check(text, scope, wants.anything);
  if (!checked.ok) return text;
  const edits: (At & { readonly put: string })[] = [];
  for (const node of everyNode(checked.node)) {
    const named = namedBy(node);
    if (named !== null) {
      const member = after.tables.some((table) => table.id === named.table)
        ? membersOf(after, named.table).find((each) => (each.kind === 'field' ? each.field.id : each.relationship.id) === named.id)
        : undefined;
      const before = membersOf(scope.design, named.table).find((each) => (each.kind === 'field' ? each.field.id : each.relationship.id) === named.id);
      if (member !== undefined && member.name !== before?.name) edits.push({ ...named.at, put: member.name });
    }
    const choice = choiceCompared(node);
    const label = choice === null ? null : newLabel(choice, scope.design, after);
    if (choice !== null && label !== null) edits.push({ ...choice.at, put: JSON.stringify(label) });
  }
  return edited(text, edits);
}

/**
 * The expression with something else written for what it names, by the id of the field or relationship. A text that cannot be
 * read is left alone.
 */
export function replaced(text: string, scope: Scope, puts: ReadonlyMap<string, string>): string {
  const checked = check(text, scope, wants.anything);
  if (!checked.ok) return text;
  const edits = [...everyNode(checked.node)].flatMap((node) => {
    const named = namedBy(node);
    const put = named === null ? undefined : puts.get(named.id);
    return named === null || put === undefined ? [] : [{ ...named.at, put }];
  });
  return edited(text, edits);
}

/** The text with other words in some places. A place that is told twice is written once. */
function edited(text: string, edits: readonly (At & { readonly put: string })[]): string {
  const byPlace = new Map(edits.map((edit) => [edit.from, edit]));
  return [...byPlace.values()].sort((a, b) => b.from - a.from).reduce((all, { from, to, put }) => all.slice(0, from) + put + all.slice(to), text);
}

function newLabel({ table, field, label }: Omit<ChoiceCompared, 'at'>, before: AppDesign, after: AppDesign): string | null {
  const old = tableOf(before, table).fields.find((each) => each.id === field);
  const now = after.tables.find((each) => each.id === table)?.fields.find((each) => each.id === field);
  if (old === undefined || now === undefined || !('choices' in old) || !('choices' in now)) return null;
  const id = old.choices.find((choice) => choice.label === label)?.id;
  const put = id === undefined ? undefined : choiceNow(now, id)?.label;
  return put === undefined || put === label ? null : put;
}

/** The text that stands as it is in quotes, when an expression is no more than that. */
export function labelWritten(expression: string): string | null {
  const text = expression.trim();
  if (!/^"(?:[^"\\]|\\.)*"$/u.test(text)) return null;
  try {
    const said: unknown = JSON.parse(text);
    return typeof said === 'string' ? said : null;
  } catch {
    return null;
  }
}

/** An expression that puts a choice into a field, in the words that the choice has in the design `after`. */
export function renamedLabel(expression: string, at: { readonly table: string; readonly field: string }, before: AppDesign, after: AppDesign): string {
  const label = labelWritten(expression);
  const now = label === null || !before.tables.some((table) => table.id === at.table) ? null : newLabel({ ...at, label }, before, after);
  return now === null ? expression : JSON.stringify(now);
}
