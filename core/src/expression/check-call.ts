/** Checking the call of a function: its name, its arguments by place or by name, and what they must be. */
import type { Checker } from './checker.js';
import { builtIn, builtIns, leftOut } from '../feel/functions/functions.js';
import type { BuiltIn } from '../feel/functions/function.js';
import { digitsOfResult } from '../feel/limits.js';
import { nearest } from '../feel/names.js';
import { knownChoice } from './check-operators.js';
import { partsOf, soughtIn, type Node, type Variable } from './node.js';
import { readPattern } from '../feel/regex.js';
import { retyped } from './retype.js';
import type { At, Syntax } from '../feel/syntax.js';
import { isOrdered, listOf, types, unite, type Type } from '../feel/types.js';
import { currenciesApart } from './unit.js';
import { writtenMoment } from './written-moment.js';

type Call = Extract<Syntax, { kind: 'call' }>;

/** @param given arguments that are checked already, in the place of those of the call */
export function checkCall(checker: Checker, call: Call, depth: number, given?: readonly Node[]): Node {
  if (call.name === 'sort') return checkSort(checker, call, depth);
  if (call.name === 'flatten') return checkFlatten(checker, call, depth);
  const found = builtIn(call.name);
  if (found === undefined) return refuseName(checker, call);
  const at: At = { from: call.from, to: call.to };
  const args = given ?? selfPlaced(checker, call, found, placed(checker, call, found, depth));
  // Dates and lengths of time that are written out are read here, so that a wrong one is said where it is.
  const [first] = args;
  if (
    ['date', 'time', 'duration', 'date and time'].includes(found.name) &&
    args.length === 1 &&
    first?.kind === 'constant' &&
    typeof first.value === 'string'
  ) {
    const node = writtenMoment(checker, first, first.value);
    const wanted = found.name === 'duration' ? ['days and time duration', 'years and months duration'] : [found.name];
    if (found.name === 'date and time' && node.type.kind === 'date') return checker.callOf(found.name, at, [first], types.moment);
    if (!wanted.includes(node.type.kind)) checker.refuse(first, `This is ${checker.typeInWords(node.type)}, not what ${found.name}( ) makes.`);
    return { ...node, ...at };
  }
  if (found.name === 'duration') return checker.refuse(first ?? at, 'Write a length of time here, such as duration("P2D").');
  if (args.length > 1 && ['date', 'time'].includes(found.name) && (args.length !== 3 || !['number', 'null'].includes(first?.type.kind ?? '')))
    checker.refuse(at, found.name === 'date' ? 'date( ) takes a text, or year, month and day.' : 'time( ) takes a text, or hour, minute and second.');
  if (args.length === 1 && ['date', 'time'].includes(found.name) && first?.type.kind === 'number')
    checker.refuse(at, `${found.name}( ) takes a text, or three numbers.`);
  checkArguments(checker, call, found, args);
  if (found.strict && args.some((arg) => arg.type.kind === 'null')) return { ...at, kind: 'constant', value: null, type: types.null };
  checkPattern(checker, found, args);
  const typed = alikeTyped(found, args);
  const type = found.gives(typed.map((each) => each.type));
  const node: Node = { ...at, kind: 'call', builtIn: found, args: typed, type, ...(type.kind === 'number' ? { digits: digitsOfResult } : {}) };
  const sought = soughtIn(node);
  if (sought !== null) knownChoice(checker, ...sought);
  return node;
}

function refuseName(checker: Checker, call: Call): never {
  const reason = leftOut[call.name];
  if (reason !== undefined) checker.refuse(call.nameAt, `${call.name}( ) cannot be used in an app. ${reason}`);
  const near = nearest(call.name, [...builtIns.map((each) => each.name), 'sort', 'flatten']);
  return checker.refuse(call.nameAt, `There is no function called “${call.name}”.${near === null ? '' : ` Did you mean ${near}?`}`, near ?? undefined);
}

function placed(checker: Checker, call: Call, found: BuiltIn, depth: number): readonly Node[] {
  const { parameters } = found;
  const shape = (): string =>
    `${found.name}(${parameters.map((parameter) => (parameter.optional === true ? `${parameter.name}?` : parameter.name)).join(', ')})`;
  const named = call.args.some((arg) => arg.name !== null);
  const args: Node[] = [];
  if (named) {
    for (const argument of call.args) {
      const index = parameters.findIndex((parameter) => parameter.name === argument.name);
      if (index < 0) checker.refuse(argument.value, `There is no place called “${argument.name ?? ''}” in ${shape()}.`);
      args[index] = checker.node(argument.value, depth + 1);
    }
  } else {
    for (const argument of call.args) args.push(checker.node(argument.value, depth + 1));
  }
  const [first] = args;
  if (found.spread === true && args.length > 0 && (args.length > 1 || first?.type.kind !== 'list')) {
    let of: Type = types.null;
    for (const arg of args)
      of = unite(of, arg.type) ?? checker.refuse(arg, `This is ${checker.typeInWords(arg.type)}, the others are ${checker.typeInWords(of)}.`);
    const apart = currenciesApart(args);
    if (apart !== null) checker.refuse(call, `${apart} don't add up: convert one of them first, by a rate.`);
    return [{ from: call.from, to: call.to, kind: 'list', items: args, type: listOf(of) }];
  }
  if (args.length > parameters.length)
    checker.refuse(call, `${found.name} takes ${parameters.length === 0 ? 'nothing between its brackets' : `only ${parameters.length}`}: ${shape()}.`);
  for (const [i, parameter] of parameters.entries())
    if (args[i] === undefined && (parameter.optional !== true || i < args.length))
      checker.refuse(call, `${found.name} needs a value for ${parameter.name}: ${shape()}.`);
  return args;
}

/** The record that a function of records is about where none is named: in brackets behind a list its element, else the record itself. */
function selfPlaced(checker: Checker, call: Call, found: BuiltIn, args: readonly Node[]): readonly Node[] {
  if (found.ofSelf !== true || args.length > 0) return args;
  const { from, to } = call;
  const local = [...checker.locals].reverse().find((each) => each.opens && each.type.kind === 'record');
  if (local !== undefined) return [{ from, to, kind: 'variable', variable: local.variable, type: local.type }];
  const { table } = checker.scope;
  if (table === null) return checker.refuse(call, `There is no record here. Name one: ${found.name}(…).`);
  return [{ from, to, kind: 'self', table, type: { kind: 'record', table } }];
}

function checkArguments(checker: Checker, call: Call, found: BuiltIn, args: readonly Node[]): void {
  for (const [i, arg] of args.entries()) {
    const parameter = found.parameters[i];
    if (parameter === undefined || parameter.accepts.fits(arg.type)) continue;
    // A null where a list is wanted is a null list, which every function gives back as null.
    if (arg.type.kind === 'null') continue;
    checker.refuse(
      arg.from === call.from && arg.to === call.to ? call : arg,
      `${found.name} needs ${parameter.accepts.description} here; this is ${checker.typeInWords(arg.type)}.`,
    );
  }
  const ranges = found.group === 'Ranges' || ['list contains', 'index of', 'append', 'concatenate', 'union'].includes(found.name);
  const [a, b] = args;
  if (!ranges || a === undefined || b === undefined) return;
  const inner = (type: Type): Type => (type.kind === 'range' || type.kind === 'list' ? type.of : type);
  const both = unite(inner(a.type), inner(b.type));
  if (both === null || (found.group === 'Ranges' && !isOrdered(both)))
    checker.refuse(b, `This is ${checker.typeInWords(b.type)}, the other ${checker.typeInWords(a.type)}: they do not go together.`);
}

function checkPattern(checker: Checker, found: BuiltIn, args: readonly Node[]): void {
  const wanted = { matches: [1, 2], replace: [1, 2, 3], split: [1] }[found.name];
  if (wanted === undefined) return;
  const written = (i: number): string | undefined => {
    const arg = args[i];
    if (arg === undefined) return undefined;
    if (arg.kind === 'constant' && typeof arg.value === 'string') return arg.value;
    return checker.refuse(arg, 'Write this text here in double quotes. It is checked before it runs.');
  };
  for (const i of wanted) written(i);
  const pattern = args[1];
  if (pattern === undefined) return;
  const flags = { matches: 2, replace: 3 }[found.name];
  const read = readPattern(written(1) ?? '', flags === undefined ? undefined : written(flags));
  if (!read.ok) return checker.refuse((read.ofFlags === true && flags !== undefined ? args[flags] : undefined) ?? pattern, read.message);
  if (found.name === 'matches') return;
  if (read.pattern.ambiguous !== null) checker.refuse(pattern, read.pattern.ambiguous);
  if (read.pattern.matchesEmpty) checker.refuse(pattern, 'This pattern matches everywhere, even between two characters. Make it match at least one character.');
  if (found.name === 'replace' && Number(/(?<!\\)\$(\d)/u.exec(written(2) ?? '')?.[1] ?? 0) > read.pattern.groups)
    checker.refuse(args[2] ?? pattern, 'The pattern has not so many groups ( ).');
}

/** Lists and values that go together get one type: an empty list or a null beside numbers is one of numbers. */
function alikeTyped(found: BuiltIn, args: readonly Node[]): readonly Node[] {
  const [a, b, ...rest] = args;
  if (found.group !== 'Ranges' && !['list contains', 'index of', 'append', 'concatenate', 'union'].includes(found.name))
    return args.map((arg, i) => {
      const { usual } = found.parameters[i]?.accepts ?? {};
      return usual === undefined ? arg : retyped(arg, listOf(usual));
    });
  if (a === undefined || b === undefined) return args;
  const inner = (type: Type): Type => (type.kind === 'list' || type.kind === 'range' ? type.of : type);
  const both = unite(inner(a.type), inner(b.type)) ?? types.null;
  const again = (node: Node): Node => retyped(node, node.type.kind === 'list' ? listOf(both) : node.type.kind === 'range' ? { kind: 'range', of: both } : both);
  return [again(a), again(b), ...rest];
}

/** Lists of lists come from walking to children of several records; flatten makes one list of them. */
function checkFlatten(checker: Checker, call: Call, depth: number): Node {
  const [argument] = call.args;
  if (argument === undefined || call.args.length > 1) return checker.refuse(call, 'flatten takes one list of lists.');
  const of = checker.node(argument.value, depth + 1);
  if (of.type.kind !== 'list' || of.type.of.kind !== 'list')
    return checker.refuse(of, `flatten needs a list of lists; this is ${checker.typeInWords(of.type)}.`);
  const [outer, inner] = [checker.newVariable(), checker.newVariable()];
  const list: Node = { ...at(call), kind: 'variable', variable: outer, type: of.type.of };
  const element: Node = { ...at(call), kind: 'variable', variable: inner, type: of.type.of.of };
  return {
    ...at(call),
    kind: 'for',
    bindings: [
      { variable: outer, over: of },
      { variable: inner, over: list },
    ],
    body: element,
    type: of.type.of,
  };
}
const at = ({ from, to }: At): At => ({ from, to });

/** `sort(list, function(a, b) a.x < b.x)`: only orders by one value of the elements, which both engines can do. */
function checkSort(checker: Checker, call: Call, depth: number): Node {
  const [listArgument, orderArgument] = call.args;
  if (listArgument === undefined || call.args.length > 2)
    return checker.refuse(call, 'sort takes a list, and how: sort(Lines, function(a, b) a.Amount < b.Amount).');
  const of = checker.node(listArgument.value, depth + 1);
  if (of.type.kind !== 'list') return checker.refuse(of, `sort needs a list; this is ${checker.typeInWords(of.type)}.`);
  const element = of.type.of;
  if (orderArgument === undefined) {
    if (!isOrdered(element)) return checker.refuse(of, `Say how to sort: function(a, b) a.Name < b.Name.`);
    const variable = checker.newVariable();
    return { ...at(call), kind: 'sort', of, variable, by: { ...at(of), kind: 'variable', variable, type: element }, descending: false, type: of.type };
  }
  const order = orderArgument.value;
  const shape = 'The order is said as function(a, b) a.Amount < b.Amount, with the same value of both.';
  if (order.kind !== 'function' || order.parameters.length !== 2) return checker.refuse(order, shape);
  const [a = '', b = ''] = order.parameters;
  const { node, first, second } = checker.ofPair([a, b], element, order.body, depth);
  if (node.kind !== 'compare' || !['<', '>'].includes(node.op)) return checker.refuse(order.body, shape);
  const swaps = !uses(node.left, first);
  const [left, right] = swaps ? [node.right, node.left] : [node.left, node.right];
  if (uses(left, second) || uses(right, first) || !alike(left, right, first, second)) return checker.refuse(order.body, shape);
  return { ...at(call), kind: 'sort', of, variable: first, by: left, descending: (node.op === '>') !== swaps, type: of.type };
}

const uses = (node: Node, variable: Variable): boolean =>
  node.kind === 'variable' ? node.variable === variable : partsOf(node).some((part) => uses(part, variable));

/** Whether two trees are the same but for the variable they speak of. */
function alike(a: Node, b: Node, first: Variable, second: Variable): boolean {
  const bare = (node: Node, own: Variable): unknown =>
    JSON.parse(
      JSON.stringify(node, (name, value: unknown) =>
        ['from', 'to', 'nameAt'].includes(name)
          ? undefined
          : name === 'variable' && value === own
            ? 'own'
            : name === 'builtIn'
              ? (value as BuiltIn).name
              : value,
      ),
    );
  return JSON.stringify(bare(a, first)) === JSON.stringify(bare(b, second));
}
