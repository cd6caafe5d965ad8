/** Computing a checked expression in memory: in forms while typing, and wherever no database is at hand. */
import { TooMuch } from './not-computed.js';
import type { Field, Relationship } from '../design/design.js';
import type { Value } from '../fields/value.js';
import { kindOf, partsOfField } from '../fields/kinds.js';
import type { Given } from '../feel/functions/function.js';
import { every, some } from '../feel/three-valued.js';
import { longestSeries, mostSteps } from '../feel/limits.js';
import type { BoundList, Node, Variable } from './node.js';
import { partOf } from '../feel/date-parts.js';
import { compare, isList, isNumber, isRecord, same, type Feel, type RecordValue } from '../feel/value.js';

/** The records that an expression walks through. */
export interface RecordSource {
  /** A stored value; a reference as `{ id, caption }` or as an id. Can throw `NotAtHand`. */
  readonly value: (record: RecordValue, field: Field) => Value;
  readonly children: (record: RecordValue, relationship: Relationship) => readonly RecordValue[];
}

export interface Surroundings extends Given {
  readonly me: { readonly Name: string; readonly Mail: string; readonly Roles: readonly string[] };
  /** The records that the person is tied to, by the id of the tie. */
  readonly ties?: Readonly<Record<string, number>>;
  /** The number of the person, for SQL. */
  readonly person?: number;
  readonly records: RecordSource;
  readonly self: RecordValue | null;
}

/** @throws TooMuch, and what `records` throws */
export function evaluate(node: Node, surroundings: Surroundings): Feel {
  return new Evaluation(surroundings, { left: mostSteps }).of(node);
}

/** A stored value as the language sees it. */
const feelOf = (field: Field, parent: string, value: Value): Feel =>
  value === null ? (kindOf(field).feel.ofNothing ?? null) : kindOf(field).feel.from(value, field, parent);

class Evaluation {
  private readonly variables = new Map<Variable, Feel>();

  constructor(
    private readonly around: Surroundings,
    private readonly steps: { left: number },
  ) {}

  of(node: Node): Feel {
    this.steps.left -= 1;
    if (this.steps.left < 0) throw new TooMuch('This takes too long to compute');
    switch (node.kind) {
      case 'constant':
        return node.value;
      case 'self':
        return this.around.self;
      case 'me':
        return this.around.me[node.entry];
      case 'tied': {
        const id = this.around.ties?.[node.tie.id];
        return id === undefined ? null : { kind: 'record', table: node.tie.table, id };
      }
      case 'variable':
        return this.variables.get(node.variable) ?? null;
      case 'field':
      case 'parent': {
        const record = this.of(node.of);
        if (!isRecord(record)) return null;
        return feelOf(node.field, node.kind === 'parent' ? node.table : '', this.around.records.value(record, node.field));
      }
      case 'children': {
        const record = this.of(node.of);
        return isRecord(record) ? this.around.records.children(record, node.relationship) : null;
      }
      case 'formula': {
        const record = this.of(node.of);
        return isRecord(record) ? new Evaluation({ ...this.around, self: record }, this.steps).of(node.body) : null;
      }
      case 'entry': {
        const of = this.of(node.of);
        return of !== null && typeof of === 'object' && !isList(of) && 'kind' in of && of.kind === 'context' ? (of.entries[node.name] ?? null) : null;
      }
      case 'within': {
        const record = this.of(node.of.of);
        const value = isRecord(record) ? this.around.records.value(record, node.of.field) : null;
        return value === null ? null : (partsOfField(node.of.field)[node.part]?.from(value) ?? null);
      }
      case 'part':
        return partOf(this.of(node.of), node.part, this.around.zone);
      case 'project':
        return this.each(node.of, node.variable, node.body);
      case 'filter': {
        const list = this.of(node.of);
        return isList(list) ? list.filter((each) => this.bound(node.variable, each, () => this.of(node.by)) === true) : null;
      }
      case 'index':
        return element(this.of(node.of), this.of(node.by));
      case 'sort':
        return this.sorted(node);
      case 'call': {
        const args = node.args.map((arg) => this.of(arg));
        return node.builtIn.strict && args.includes(null) ? null : node.builtIn.evaluate(args, this.around);
      }
      case 'arithmetic': {
        const [a, b] = [this.of(node.left), this.of(node.right)];
        return a === null || b === null ? null : node.way.evaluate(a, b, this.around);
      }
      case 'negative':
        return negated(this.of(node.of));
      case 'compare':
        return compared(node.op, this.of(node.left), this.of(node.right));
      case 'and':
        return every(node.of.map((each) => this.of(each)));
      case 'or':
        return some(node.of.map((each) => this.of(each)));
      case 'if':
        return this.of(this.of(node.condition) === true ? node.then : node.otherwise);
      case 'for':
        return this.rounds(node.bindings, node.body);
      case 'some':
      case 'every': {
        const rounds = this.rounds(node.bindings, node.body);
        return rounds === null ? null : node.kind === 'some' ? some(rounds) : every(rounds);
      }
      case 'series':
        return series(this.of(node.low), this.of(node.high));
      case 'list':
        return node.items.map((item) => this.of(item));
      case 'range':
        return { kind: 'range', low: this.of(node.low), high: this.of(node.high), lowIncluded: node.lowIncluded, highIncluded: node.highIncluded };
      case 'context':
        return { kind: 'context', entries: Object.fromEntries(Object.entries(node.entries).map(([name, each]) => [name, this.of(each)])) };
      default:
        return node satisfies never;
    }
  }

  private bound<T>(variable: Variable, value: Feel, work: () => T): T {
    this.variables.set(variable, value);
    return work();
  }
  private each(of: Node, variable: Variable, body: Node): Feel {
    const list = this.of(of);
    return isList(list) ? list.map((each) => this.bound(variable, each, () => this.of(body))) : null;
  }

  private rounds([first, ...rest]: readonly BoundList[], body: Node): readonly Feel[] | null {
    if (first === undefined) return [this.of(body)];
    const list = this.of(first.over);
    if (!isList(list)) return null;
    const all: Feel[] = [];
    // A list that is null for one element only has no elements there.
    for (const each of list) for (const value of this.bound(first.variable, each, () => this.rounds(rest, body)) ?? []) all.push(value);
    return all;
  }

  private sorted(node: Extract<Node, { kind: 'sort' }>): Feel {
    const list = this.of(node.of);
    if (!isList(list)) return null;
    const keyed = list.map((value) => ({ value, key: this.bound(node.variable, value, () => this.of(node.by)) }));
    const sign = node.descending ? -1 : 1;
    return keyed.sort((a, b) => (a.key === null ? (b.key === null ? 0 : 1) : b.key === null ? -1 : compare(a.key, b.key) * sign)).map((each) => each.value);
  }
}

function element(list: Feel, place: Feel): Feel {
  if (!isList(list) || !isNumber(place) || !place.isInteger() || place.isZero() || place.abs().gt(1e9)) return null;
  return list.at(place.isNegative() ? place.toNumber() : place.toNumber() - 1) ?? null;
}

function negated(value: Feel): Feel {
  if (isNumber(value)) return value.neg();
  if (value === null || typeof value !== 'object' || isList(value)) return null;
  if (value.kind === 'days and time duration') return { kind: value.kind, ms: -value.ms + 0 };
  return value.kind === 'years and months duration' ? { kind: value.kind, months: -value.months + 0 } : null;
}

function compared(op: Extract<Node, { kind: 'compare' }>['op'], a: Feel, b: Feel): Feel {
  if (op === '=') return same(a, b);
  if (op === '!=') return !same(a, b);
  if (a === null || b === null) return null;
  const order = compare(a, b);
  return op === '<' ? order < 0 : op === '<=' ? order <= 0 : op === '>' ? order > 0 : order >= 0;
}

function series(low: Feel, high: Feel): Feel {
  if (!isNumber(low) || !isNumber(high) || !low.isInteger() || !high.isInteger() || high.minus(low).abs().gte(longestSeries)) return null;
  const count = high.minus(low).abs().toNumber() + 1;
  const step = high.lt(low) ? -1 : 1;
  return Array.from({ length: count }, (_, i) => low.plus(i * step));
}
