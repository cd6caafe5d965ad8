/**
 * From syntax to the checked tree: names are resolved against the design, types are found, and what is wrong is said
 * with its place in a sentence for the person who wrote it.
 */
import type { AppDesign, Field, TableId } from '../design/design.js';
import { checkCall } from './check-call.js';
import { checkName, checkPath } from './check-names.js';
import { checkArithmetic, checkCompare } from './check-operators.js';
import { builtIn } from '../feel/functions/functions.js';
import { digitsOfResult, longestSeries, mostDepth, mostInlined, mostNodes } from '../feel/limits.js';
import { memberCalled } from './names.js';
import type { BoundList, Node, Variable } from './node.js';
import { retyped } from './retype.js';
import { Refusing, type Checked, type Local, type Scope } from './scope.js';
import type { At, Syntax } from '../feel/syntax.js';
import { describeType, isOrdered, isScalar, listOf, plainKind, types, unite, type Type } from '../feel/types.js';
import { Decimal } from '../feel/value.js';
import { currenciesApart } from './unit.js';
import { writtenMoment } from './written-moment.js';

/** What the expression of a formula field is, which may be refused for a circle. */
type FormulaBody = (design: AppDesign, table: TableId, field: Extract<Field, { kind: 'formula' }>) => Checked;

export class Checker {
  private nodes = 0;
  private inlined = 0;
  private variables = 0;

  constructor(
    readonly scope: Scope,
    private readonly formulaBody: FormulaBody,
    /** What is bound around the place that is being checked, the innermost last. */
    public locals: readonly Local[] = [],
  ) {}

  get weight(): number {
    return this.nodes + this.inlined;
  }
  refuse(at: At, message: string, fix?: string): never {
    throw new Refusing({ from: at.from, to: at.to, message, ...(fix === undefined ? {} : { fix }) });
  }
  typeInWords(type: Type): string {
    return describeType(type, this.scope.design);
  }
  private within<T>(locals: readonly Local[], work: () => T): T {
    const before = this.locals;
    this.locals = [...before, ...locals];
    try {
      return work();
    } finally {
      this.locals = before;
    }
  }
  newVariable(): Variable {
    this.variables += 1;
    return this.variables;
  }

  node(syntax: Syntax, depth: number): Node {
    this.nodes += 1;
    if (this.nodes > mostNodes || depth > mostDepth)
      this.refuse(syntax, 'This expression has too many parts. Put some of them into formula fields of their own.');
    const at: At = { from: syntax.from, to: syntax.to };
    const sub = (part: Syntax): Node => this.node(part, depth + 1);
    switch (syntax.kind) {
      case 'number': {
        const value = new Decimal(syntax.digits);
        return { from: at.from, to: at.to, kind: 'constant', value, type: types.number, digits: Math.max(1, value.precision(true) + value.decimalPlaces()) };
      }
      case 'string':
      case 'boolean':
        return { from: at.from, to: at.to, kind: 'constant', value: syntax.value, type: syntax.kind === 'string' ? types.string : types.boolean };
      case 'null':
        return { from: at.from, to: at.to, kind: 'constant', value: null, type: types.null };
      case 'at':
        return writtenMoment(this, at, syntax.text);
      case 'name':
        return checkName(this, at, syntax.name);
      case 'path':
        return checkPath(
          this,
          at,
          syntax.name,
          syntax.nameAt,
          syntax.of.kind === 'name' && syntax.of.name === 'me' && !this.isNamed('me') ? null : sub(syntax.of),
        );
      case 'filter':
        return this.filter(at, sub(syntax.of), syntax.by, depth);
      case 'call':
        return checkCall(this, syntax, depth);
      case 'arithmetic':
        return checkArithmetic(this, at, syntax.op, sub(syntax.left), sub(syntax.right));
      case 'negative': {
        const of = sub(syntax.of);
        if (!['number', 'days and time duration', 'years and months duration', 'null'].includes(of.type.kind))
          this.refuse(of, `Only numbers and lengths of time have an opposite; this is ${this.typeInWords(of.type)}.`);
        if (of.type.kind === 'null') return { from: at.from, to: at.to, kind: 'constant', value: null, type: types.null };
        if (of.kind === 'constant' && Decimal.isDecimal(of.value)) return { ...of, ...at, value: of.value.neg() };
        return { from: at.from, to: at.to, kind: 'negative', of, type: of.type, digits: of.digits };
      }
      case 'compare':
        return checkCompare(this, at, syntax.op, sub(syntax.left), sub(syntax.right));
      case 'between': {
        const of = sub(syntax.of);
        return this.all(at, [checkCompare(this, at, '>=', of, sub(syntax.low)), checkCompare(this, at, '<=', of, sub(syntax.high))]);
      }
      case 'in': {
        const of = sub(syntax.of);
        const tests = syntax.tests.map((test) => this.test(at, of, test, depth));
        return tests.length === 1 && tests[0] !== undefined ? tests[0] : { from: at.from, to: at.to, kind: 'or', of: tests, type: types.boolean };
      }
      case 'test':
        return this.refuse(at, 'A comparison needs a value on its left.');
      case 'and':
      case 'or': {
        const of = [syntax.left, syntax.right].map((each) => this.truth(sub(each)));
        // A chain of the same word is one node: it is read, written and pointed at as one group.
        const flat = of.flatMap((node, i) => (node.kind === syntax.kind && i === 0 ? node.of : [node]));
        return { from: at.from, to: at.to, kind: syntax.kind, of: flat, type: types.boolean };
      }
      case 'if':
        return this.choose(at, this.truth(sub(syntax.condition)), sub(syntax.then), sub(syntax.otherwise));
      case 'for':
      case 'some':
      case 'every':
        return this.iteration(at, syntax, depth);
      case 'list':
        return this.list(at, syntax.items.map(sub));
      case 'range': {
        const [low, high] = [sub(syntax.low), sub(syntax.high)];
        const of = unite(low.type, high.type);
        if (of === null || !isOrdered(of)) return this.refuse(at, 'Both ends of a range must be numbers, or both dates, times or texts.');
        return {
          from: at.from,
          to: at.to,
          kind: 'range',
          low: retyped(low, of),
          high: retyped(high, of),
          lowIncluded: syntax.lowIncluded,
          highIncluded: syntax.highIncluded,
          type: { kind: 'range', of },
        };
      }
      case 'context': {
        const entries: Record<string, Node> = {};
        for (const { name, value } of syntax.entries) entries[name] = sub(value);
        return {
          from: at.from,
          to: at.to,
          kind: 'context',
          entries,
          type: { kind: 'context', entries: Object.fromEntries(Object.entries(entries).map(([name, value]) => [name, value.type])) },
        };
      }
      case 'instance':
        return this.instance(at, sub(syntax.of), syntax.type);
      case 'function':
        return this.refuse(at, 'A function can only be written inside sort( ).');
      default:
        return syntax satisfies never;
    }
  }

  truth(node: Node): Node {
    if (node.type.kind === 'boolean' || node.type.kind === 'null') return retyped(node, types.boolean);
    return this.refuse(node, `This must be yes or no, such as a comparison. It is ${this.typeInWords(node.type)}.`);
  }
  private all(at: At, of: readonly Node[]): Node {
    return { from: at.from, to: at.to, kind: 'and', of, type: types.boolean };
  }

  callOf(name: string, at: At, args: readonly Node[], type: Type): Node {
    const found = builtIn(name);
    if (found === undefined) throw new TypeError(`No function ${name}`);
    return { from: at.from, to: at.to, kind: 'call', builtIn: found, args, type, digits: type.kind === 'number' ? digitsOfResult : undefined };
  }

  private isNamed(name: string): boolean {
    return this.scope.table !== null && memberCalled(this.scope.design, this.scope.table, name) !== undefined;
  }

  /** What a formula field of a table is, written out in the expression that names it. */
  formulaOf(table: TableId, field: Extract<Field, { kind: 'formula' }>, nameAt: At): Node {
    const body = this.formulaBody(this.scope.design, table, field);
    if (!body.ok) return this.refuse(nameAt, `${field.name} itself cannot be computed: ${body.problems[0]?.message ?? ''}`);
    this.inlined += body.weight;
    if (this.weight > mostInlined)
      this.refuse(nameAt, `With the formulas it uses this comes to more than ${mostInlined} parts. Use fewer of them, or each once.`);
    return body.node;
  }

  private filter(at: At, of: Node, by: Syntax, depth: number): Node {
    if (of.type.kind !== 'list') return this.refuse(of, `Only a list is narrowed by brackets; this is ${this.typeInWords(of.type)}.`);
    const variable = this.newVariable();
    const type = of.type.of;
    const condition = this.within([{ name: 'item', variable, type, opens: true }], () => this.node(by, depth + 1));
    if (condition.type.kind === 'number')
      return { from: at.from, to: at.to, kind: 'index', of, by: condition, type, digits: type.kind === 'number' ? digitsOfResult : undefined };
    return { from: at.from, to: at.to, kind: 'filter', of, variable, by: this.truth(condition), type: of.type };
  }

  /** One of the tests behind `in`. */
  private test(at: At, of: Node, syntax: Syntax, depth: number): Node {
    if (syntax.kind === 'test') return checkCompare(this, at, syntax.op, of, this.node(syntax.right, depth + 1));
    if (syntax.kind === 'list' && syntax.items.some((item) => item.kind === 'test' || item.kind === 'range')) {
      return { from: at.from, to: at.to, kind: 'or', of: syntax.items.map((item) => this.test(at, of, item, depth)), type: types.boolean };
    }
    const against = this.node(syntax, depth + 1);
    if (against.type.kind === 'list')
      return checkCall(this, { from: at.from, to: at.to, kind: 'call', name: 'list contains', nameAt: at, args: [] }, depth, [against, of]);
    if (against.kind === 'range') {
      return this.all(at, [
        checkCompare(this, at, against.lowIncluded ? '>=' : '>', of, against.low),
        checkCompare(this, at, against.highIncluded ? '<=' : '<', of, against.high),
      ]);
    }
    return checkCompare(this, at, '=', of, against);
  }

  private choose(at: At, condition: Node, then: Node, otherwise: Node): Node {
    const type = unite(then.type, otherwise.type);
    if (type === null) return this.refuse(at, `Then it is ${this.typeInWords(then.type)}, else ${this.typeInWords(otherwise.type)}; both must be of one kind.`);
    const apart = currenciesApart([then, otherwise]);
    if (apart !== null) this.refuse(at, `${apart} can't be one value: convert one of them first, by a rate.`);
    if (!isScalar(type) && type.kind !== 'null') this.refuse(at, `An if gives one plain value; this is ${this.typeInWords(type)}.`);
    return {
      from: at.from,
      to: at.to,
      kind: 'if',
      condition,
      then,
      otherwise,
      type,
      digits: type.kind === 'number' ? Math.max(then.digits ?? 0, otherwise.digits ?? 0) : undefined,
    };
  }

  private iteration(at: At, syntax: Extract<Syntax, { kind: 'for' | 'some' | 'every' }>, depth: number): Node {
    const bindings: BoundList[] = [];
    const locals: Local[] = [];
    for (const binding of syntax.bindings) {
      const over = this.within(locals, () => this.iterated(binding.over, depth));
      const variable = this.newVariable();
      bindings.push({ variable, over });
      locals.push({ name: binding.name, variable, type: over.type.kind === 'list' ? over.type.of : types.null, opens: false });
    }
    const body = this.within(locals, () => this.node(syntax.body, depth + 1));
    if (syntax.kind !== 'for') return { from: at.from, to: at.to, kind: syntax.kind, bindings, body: this.truth(body), type: types.boolean };
    if (body.type.kind === 'range') this.refuse(body, 'A list of ranges has no use here.');
    return { from: at.from, to: at.to, kind: 'for', bindings, body, type: listOf(body.type) };
  }

  private iterated(syntax: Syntax, depth: number): Node {
    if (syntax.kind !== 'range') {
      const over = this.node(syntax, depth + 1);
      return over.type.kind === 'list' ? over : this.refuse(over, `This must be a list to go through; it is ${this.typeInWords(over.type)}.`);
    }
    const [low, high] = [this.node(syntax.low, depth + 1), this.node(syntax.high, depth + 1)];
    for (const end of [low, high])
      if (end.type.kind !== 'number') this.refuse(end, `One can go from a whole number to another; this is ${this.typeInWords(end.type)}.`);
    if (
      low.kind === 'constant' &&
      high.kind === 'constant' &&
      Decimal.isDecimal(low.value) &&
      Decimal.isDecimal(high.value) &&
      high.value.minus(low.value).abs().gte(longestSeries)
    )
      this.refuse(syntax, `This goes through ${high.value.minus(low.value).abs().plus(1).toFixed(0)} numbers; at most 10,000 are possible.`);
    return { from: syntax.from, to: syntax.to, kind: 'series', low, high, type: listOf(types.number) };
  }

  private list(at: At, items: readonly Node[]): Node {
    let of: Type = types.null;
    for (const item of items) {
      const both: Type | null = unite(of, item.type);
      if (both === null) return this.refuse(item, `The list holds ${this.typeInWords(of)} before; this is ${this.typeInWords(item.type)}.`);
      of = both;
    }
    if (!isScalar(of) && of.kind !== 'null') this.refuse(at, 'A list that is written out holds plain values: numbers, texts, dates.');
    const apart = currenciesApart(items);
    if (apart !== null) this.refuse(at, `${apart} don't add up: convert one of them first, by a rate.`);
    return { from: at.from, to: at.to, kind: 'list', items, type: listOf(of) };
  }

  private instance(at: At, of: Node, wanted: string): Node {
    const known = ['number', 'string', 'boolean', 'date', 'time', 'date and time', 'days and time duration', 'years and months duration', 'Any'];
    if (!known.includes(wanted)) return this.refuse(at, `“${wanted}” is no type to ask for: there are ${known.join(', ')}.`);
    if (!isScalar(of.type) && of.type.kind !== 'null')
      return this.refuse(of, `Only plain values are asked for their type; this is ${this.typeInWords(of.type)}.`);
    if (wanted !== 'Any' && plainKind(of.type) !== wanted) return { from: at.from, to: at.to, kind: 'constant', value: false, type: types.boolean };
    return {
      from: at.from,
      to: at.to,
      kind: 'compare',
      op: '!=',
      left: of,
      right: { from: at.from, to: at.to, kind: 'constant', value: null, type: types.null },
      type: types.boolean,
    };
  }

  /** The body of a function of two elements, as `sort` takes it. */
  ofPair(
    names: readonly [string, string],
    type: Type,
    body: Syntax,
    depth: number,
  ): { readonly node: Node; readonly first: Variable; readonly second: Variable } {
    const [first, second] = [this.newVariable(), this.newVariable()];
    const locals = [
      { name: names[0], variable: first, type, opens: false },
      { name: names[1], variable: second, type, opens: false },
    ];
    return { node: this.within(locals, () => this.node(body, depth + 1)), first, second };
  }
}
