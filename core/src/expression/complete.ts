/** What could be written next at a place of an expression that need not be whole yet. */
import type { SyntaxNode } from '@lezer/common';
import { fieldOf, tableOf } from '../design/read.js';
import { namedParts } from '../feel/date-parts.js';
import { writtenText } from '../feel/write.js';
import { namesFor, typeOfPart } from './check.js';
import { entriesOfMe, type Local, type Scope } from './scope.js';
import { kindOf } from '../fields/kinds.js';
import { builtIns } from '../feel/functions/functions.js';
import { parserFor } from '../feel/grammar.js';
import { membersOf } from './names.js';
import { key } from '../feel/names.js';
import { describeType, types, type Type } from '../feel/types.js';

export interface Completion {
  readonly label: string;
  /** What takes the place of the stretch; for functions with its brackets. */
  readonly insert: string;
  readonly kind: 'field' | 'children' | 'part' | 'function' | 'variable' | 'value' | 'word';
  /** Its type, or what it does. */
  readonly description: string;
  readonly example?: readonly [expression: string, result: string];
}
export interface Completions {
  /** Where what is typed so far begins. */
  readonly from: number;
  readonly options: readonly Completion[];
}

const words = ['if', 'then', 'else', 'and', 'or', 'between', 'in', 'some', 'every', 'satisfies', 'for', 'return', 'true', 'false', 'null'] as const;

/** Completions at an offset of the text, those that go on from what is before it. */
export function complete(text: string, offset: number, scope: Scope): Completions {
  const before = text.slice(0, offset);
  if ((before.match(/(?<!\\)"/gu)?.length ?? 0) % 2 === 1) return choiceValues(before, scope, true);
  const known = namesFor(scope);
  const tree = parserFor(known).parse(before);
  const locals = localsAt(tree.topNode, before, scope);
  const dot = /\.\s*([\p{L}\p{N}_?' -]*)$/u.exec(before);
  if (dot !== null && !/\d\.$/u.test(before.slice(0, dot.index + 1))) {
    const owner = typeBefore(tree.topNode, before, dot.index, scope, locals);
    if (owner !== null) return { from: offset - (dot[1] ?? '').trimStart().length, options: insideOf(owner, scope) };
  }
  const values = choiceValues(before, scope, false);
  const options = [...values.options, ...atHand(scope, locals)];
  // A name can have spaces: the longest run of words before the cursor that begins one of them is what is completed.
  const run = /[\p{L}_?][\p{L}\p{N}_?' -]*$/u.exec(before);
  if (run === null) return { from: offset, options };
  for (let from = run.index; from < offset; from += 1) {
    if (from > run.index && before[from - 1] !== ' ') continue;
    const typed = before.slice(from).toLowerCase();
    if (typed.trim() !== '' && options.some((option) => option.label.toLowerCase().startsWith(typed))) return { from, options };
  }
  const last = run.index + run[0].lastIndexOf(' ') + 1;
  return { from: Math.max(run.index, last), options };
}

const describe = (type: Type, scope: Scope): string => describeType(type, scope.design);

function insideOf(type: Type, scope: Scope): readonly Completion[] {
  const element = type.kind === 'list' ? type.of : type;
  if (element.kind === 'record') return membersAsOptions(element.table, scope);
  if (element.kind === 'context')
    return Object.entries(element.entries).map(([label, each]) => ({ label, insert: label, kind: 'part', description: describe(each, scope) }));
  return namedParts(element).map((label) => ({ label, insert: label, kind: 'part', description: describe(typeOfNamed(element, label), scope) }));
}

const typeOfNamed = (type: Type, label: string): Type => ('parts' in type ? type.parts?.[label] : undefined) ?? types.number;

function membersAsOptions(table: string, scope: Scope): readonly Completion[] {
  return membersOf(scope.design, table).map((member): Completion => {
    if (member.kind === 'children')
      return {
        label: member.name,
        insert: member.name,
        kind: 'children',
        description: `a list of records of ${tableOf(scope.design, member.relationship.child).name}`,
      };
    const { field } = member;
    const description =
      field.kind === 'reference'
        ? `a record of ${tableOf(scope.design, scope.design.relationships.find((each) => each.id === field.relationship)?.parent ?? '').name}`
        : field.kind === 'formula'
          ? 'a formula'
          : describe(kindOf(field).feel.type(field, table) ?? types.null, scope);
    return { label: member.name, insert: member.name, kind: 'field', description };
  });
}

function atHand(scope: Scope, locals: readonly Local[]): readonly Completion[] {
  const own = scope.table === null ? [] : membersAsOptions(scope.table, scope);
  const bound = [...locals]
    .reverse()
    .flatMap((local): readonly Completion[] => [
      { label: local.name, insert: local.name, kind: 'variable', description: describe(local.type, scope) },
      ...(local.opens ? insideOf(local.type, scope) : []),
    ]);
  const me = Object.entries(entriesOfMe(scope.design)).map(([name, type]): Completion => ({
    label: `me.${name}`,
    insert: `me.${name}`,
    kind: 'variable',
    description: `of the person who looks: ${describe(type, scope)}`,
  }));
  const functions = builtIns.map((builtIn): Completion => {
    const [example] = builtIn.examples;
    return {
      label: `${builtIn.name}()`,
      insert: `${builtIn.name}(`,
      kind: 'function',
      description: builtIn.help,
      ...(example === undefined ? {} : { example }),
    };
  });
  return [
    ...bound,
    ...own,
    ...me,
    ...functions,
    ...words.map((label): Completion => ({ label, insert: label, kind: 'word', description: 'a word of the language' })),
  ];
}

const walkable = new Set(['VariableName', 'PathExpression', 'FilterExpression', 'FunctionInvocation', 'ParenthesizedExpression', 'DateTimeLiteral']);

/** The type of the longest thing that ends before a dot. */
function typeBefore(top: SyntaxNode, text: string, dot: number, scope: Scope, locals: readonly Local[]): Type | null {
  const end = text.slice(0, dot).trimEnd().length;
  let found: Type | null = null;
  if (text.slice(0, end).endsWith('me') && typeOfPart('me.Name', scope, []) !== null && /(^|[^\p{L}\p{N}_])me$/u.test(text.slice(0, end)))
    return { kind: 'context', entries: entriesOfMe(scope.design) };
  for (let node: SyntaxNode | null = top.resolveInner(end, -1); node !== null; node = node.parent) {
    if (node.to < end || !walkable.has(node.name)) continue;
    const type = typeOfPart(text.slice(node.from, end), scope, locals);
    if (type !== null) found = type;
  }
  return found;
}

/** What is bound around the end of the text: elements of lists whose bracket is still open, and the names of `for`, `some`, `every`. */
function localsAt(top: SyntaxNode, text: string, scope: Scope): readonly Local[] {
  const locals: Local[] = [];
  const cursor = top.cursor();
  do {
    if (cursor.name !== 'InExpression') continue;
    const [name, , over] = childrenOf(cursor.node);
    const type = name === undefined || over === undefined ? null : typeOfPart(text.slice(over.from, over.to), scope, locals);
    if (name !== undefined && type !== null)
      locals.push({
        name: key(text.slice(name.from, name.to)),
        variable: locals.length + 1,
        type: type.kind === 'list' ? type.of : types.number,
        opens: false,
      });
  } while (cursor.next());
  for (const open of openBrackets(text)) {
    const type = typeBefore(top, text, open, scope, locals);
    if (type?.kind === 'list') locals.push({ name: 'item', variable: locals.length + 1, type: type.of, opens: true });
  }
  return locals;
}

const childrenOf = (node: SyntaxNode): SyntaxNode[] => {
  const all: SyntaxNode[] = [];
  for (let child = node.firstChild; child !== null; child = child.nextSibling) all.push(child);
  return all;
};

function openBrackets(text: string): readonly number[] {
  const open: number[] = [];
  for (const { 0: sign, index } of text.matchAll(/"(?:[^"\\]|\\.)*"|[[\]]/gu)) {
    if (sign === '[') open.push(index);
    else if (sign === ']') open.pop();
  }
  return open;
}

/** The labels of a choice, behind its comparison. */
function choiceValues(before: string, scope: Scope, quoted: boolean): Completions {
  const none: Completions = { from: before.length, options: [] };
  const match = /([\p{L}_?][\p{L}\p{N}_?'. -]*?)\s*(?:=|!=|\bin\s*\()\s*(?:"[^"]*",\s*)*("[^"]*)?$/u.exec(before);
  if (match === null || scope.table === null) return none;
  const name = match[1] ?? '';
  // The stretch can begin with words that belong to what is before: the longest end of it that has a type counts.
  for (let at = 0; at >= 0 && at < name.length; at = name.indexOf(' ', at) < 0 ? -1 : name.indexOf(' ', at) + 1) {
    const type = typeOfPart(name.slice(at), scope, localsAt(parserFor(namesFor(scope)).parse(before).topNode, before, scope));
    if (type?.kind !== 'choice') continue;
    const description = `a choice of ${fieldOf(tableOf(scope.design, type.table), type.field).name}`;
    return {
      from: before.length - (quoted ? (match[2] ?? '').length : 0),
      options: type.labels.map((label) => ({ label: writtenText(label), insert: writtenText(label), kind: 'value', description })),
    };
  }
  return none;
}
