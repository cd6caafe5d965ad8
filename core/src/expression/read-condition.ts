/** Reading the text of a condition back into rows. */
import { namesFor } from './check.js';
import { areAlike, comparisonsOf, mine, noRows, pathOfMine, typeOfPath, type Comparison, type Group, type Row, type Unit } from './condition-rows.js';
import { spelling } from './format.js';
import { parse } from '../feel/parse.js';
import type { Scope } from './scope.js';
import type { Syntax } from '../feel/syntax.js';
import { types } from '../feel/types.js';
import { write } from '../feel/write.js';

/** The rows of a text, or null when it has another shape or cannot be read. */
export function rowsOfText(text: string, scope: Scope): Group | null {
  if (text.trim() === '') return noRows;
  const { syntax } = parse(text, namesFor(scope));
  if (syntax === null) return null;
  const read = new Rows(scope).of(syntax);
  return read === null ? null : read.kind === 'group' ? read : { ...noRows, of: [read] };
}

class Rows {
  private readonly spell: (name: string) => string;
  constructor(private readonly scope: Scope) {
    this.spell = spelling(scope);
  }

  of(syntax: Syntax): Row | Group | null {
    if (syntax.kind === 'and' || syntax.kind === 'or') return this.thisMonth(syntax) ?? this.group(syntax);
    return this.row(syntax);
  }

  private group(syntax: Extract<Syntax, { kind: 'and' | 'or' }>): Group | null {
    const parts: Syntax[] = [];
    const gather = (each: Syntax, isFirst: boolean): void => {
      // Only the left side goes on in the same chain: brackets on the right are a group of their own.
      if (each.kind === syntax.kind && isFirst && this.thisMonth(each) === null) {
        gather(each.left, true);
        gather(each.right, false);
      } else parts.push(each);
    };
    gather(syntax, true);
    const of = parts.map((part) => this.of(part));
    return of.includes(null) ? null : { kind: 'group', join: syntax.kind, of: of as (Row | Group)[] };
  }

  private thisMonth(syntax: Extract<Syntax, { kind: 'and' | 'or' }>): Row | null {
    if (syntax.kind !== 'and') return null;
    const [year, month] = [this.partOfToday(syntax.left, 'year'), this.partOfToday(syntax.right, 'month')];
    return year !== null && year === month ? { kind: 'row', path: year, comparison: 'this_month', values: [] } : null;
  }
  /** `P.year = today().year`, by its P. */
  private partOfToday(syntax: Syntax, part: string): string | null {
    if (syntax.kind !== 'compare' || syntax.op !== '=' || syntax.left.kind !== 'path' || syntax.left.name !== part) return null;
    const { right } = syntax;
    return right.kind === 'path' && right.name === part && isToday(right.of) ? this.path(syntax.left.of) : null;
  }

  private path(syntax: Syntax): string | null {
    // The number of children of a record is compared like a field, and so is whether the person created it.
    if (syntax.kind === 'call') {
      const list = syntax.name === 'count' && syntax.args.length === 1 ? syntax.args[0]?.value : undefined;
      const text = list?.kind === 'name' ? `count(${this.spell(list.name)})` : syntax.name === mine && syntax.args.length === 0 ? `${mine}()` : null;
      return text !== null && typeOfPath(text, this.scope) !== null ? text : null;
    }
    if (syntax.kind === 'name') return this.scope.table !== null && typeOfPath(this.spell(syntax.name), this.scope) !== null ? this.spell(syntax.name) : null;
    if (syntax.kind !== 'path' || this.path(syntax.of) === null) return null;
    const text = write(syntax, this.spell);
    const type = typeOfPath(text, this.scope);
    return type !== null && comparisonsOf(type).length > 0 && !isPart(syntax, this.scope, this.spell) ? text : null;
  }

  private row(syntax: Syntax): Row | null {
    const read = this.anyRow(syntax);
    if (read === null) return null;
    const type = typeOfPath(read.path, this.scope);
    return type !== null && comparisonsOf(type).includes(read.comparison) ? read : null;
  }

  private anyRow(syntax: Syntax): Row | null {
    const row = (path: string | null, comparison: Comparison | null, values: readonly (string | null)[] = []): Row | null =>
      path === null || comparison === null || values.includes(null) ? null : { kind: 'row', path, comparison, values: values as string[] };
    switch (syntax.kind) {
      case 'compare': {
        const year = this.partOfToday(syntax, 'year');
        if (year !== null) return row(year, 'this_year');
        const { op, right } = syntax;
        const picked = this.numbered(syntax.left);
        if (picked !== null && right.kind === 'number' && (op === '=' || op === '!=')) return row(picked, op === '=' ? 'picked' : 'not_picked', [right.digits]);
        const person = this.person(syntax.left);
        if (person !== null && (op === '=' || op === '!=') && write(right, this.spell) === 'me.Mail') return row(person, op === '=' ? 'me' : 'not_me');
        const several = this.several(syntax.left);
        if (several !== null && right.kind === 'number' && right.digits === '0' && (op === '=' || op === '>'))
          return row(several, op === '=' ? 'none' : 'some');
        const path = this.path(syntax.left);
        if (right.kind === 'null') return op === '=' || op === '!=' ? row(path, op === '=' ? 'empty' : 'filled') : null;
        if (right.kind === 'boolean') return op === '=' ? row(path, right.value ? 'yes' : 'no') : null;
        if (isToday(right))
          return row(path, ({ '=': 'today', '<': 'before_today', '<=': 'until_today', '>=': 'from_today', '>': 'after_today' } as const)[op as '='] ?? null);
        if (op === '=' && right.kind === 'path' && right.name === 'year' && isToday(right.of)) return row(path, 'year_now');
        const [ago, ahead] = [spanFrom(right, '-'), spanFrom(right, '+')];
        if (ago !== null && (op === '>=' || op === '<')) return row(path, op === '>=' ? 'since' : 'longer_ago', ago);
        if (ahead !== null && (op === '<=' || op === '>')) return row(path, op === '<=' ? 'sooner' : 'later', ahead);
        const other = this.other(right, path);
        if (other !== null && path !== null) return { kind: 'row', path, comparison: compared[op], values: [], other };
        return row(path, compared[op], [this.value(right)]);
      }
      case 'between': {
        const path = this.path(syntax.of);
        const [from, to] = [spanFrom(syntax.low, '-'), spanFrom(syntax.high, '+')];
        if (from !== null && isToday(syntax.high)) return row(path, 'last', from);
        if (to !== null && isToday(syntax.low)) return row(path, 'next', to);
        return row(path, 'between', [this.value(syntax.low), this.value(syntax.high)]);
      }
      case 'in':
        return row(
          this.path(syntax.of),
          'one_of',
          syntax.tests.map((test) => this.value(test)),
        );
      case 'call': {
        const has = this.included(syntax);
        if (has !== null) return row(has.path, 'has', [has.value]);
        const inner = syntax.name === 'not' && syntax.args.length === 1 ? this.included(syntax.args[0]?.value) : null;
        if (inner !== null) return row(inner.path, 'has_not', [inner.value]);
        if (syntax.name === mine && syntax.args.length === 0) return row(pathOfMine, 'yes');
        const comparison = { contains: 'contains', 'starts with': 'starts', 'ends with': 'ends' }[syntax.name] as Comparison | undefined;
        const [of, value] = syntax.args;
        return comparison === undefined || of === undefined || value === undefined || syntax.args.length > 2
          ? null
          : row(this.path(of.value), comparison, [this.value(value.value)]);
      }
      default:
        return null;
    }
  }

  /** `P.mail` of a field that holds a person, by its P. */
  private person(syntax: Syntax): string | null {
    const path = syntax.kind === 'path' && syntax.name === 'mail' ? this.path(syntax.of) : null;
    return path !== null && comparisonsOf(typeOfPath(path, this.scope) ?? types.null).includes('me') ? path : null;
  }
  /** `count(P)` of a field of several choices, by its P. */
  private several(syntax: Syntax): string | null {
    const of = syntax.kind === 'call' && syntax.name === 'count' && syntax.args.length === 1 ? syntax.args[0]?.value : undefined;
    const path = of === undefined ? null : this.path(of);
    return path !== null && comparisonsOf(typeOfPath(path, this.scope) ?? types.null).includes('none') ? path : null;
  }
  /** `list contains(P, V)`, by its two. */
  private included(syntax: Syntax | undefined): { readonly path: string | null; readonly value: string | null } | null {
    const [of, value] = syntax?.kind === 'call' && syntax.name === 'list contains' && syntax.args.length === 2 ? syntax.args : [];
    return of === undefined || value === undefined ? null : { path: this.path(of.value), value: this.value(value.value) };
  }

  /** `record number(P)`, by its P. */
  private numbered(syntax: Syntax): string | null {
    return syntax.kind === 'call' && syntax.name === 'record number' && syntax.args.length === 1 && syntax.args[0] !== undefined
      ? this.path(syntax.args[0].value)
      : null;
  }

  /** Another field of the same type, or what belongs to the person. */
  private other(syntax: Syntax, path: string | null): string | null {
    if (path === null || (syntax.kind !== 'name' && syntax.kind !== 'path')) return null;
    const text = write(syntax, this.spell);
    const [own, theirs] = [typeOfPath(path, this.scope), typeOfPath(text, this.scope)];
    const isPlain = text.startsWith('me.') || this.path(syntax) !== null;
    return isPlain && own !== null && theirs !== null && areAlike(own, theirs) ? text : null;
  }

  private value(syntax: Syntax): string | null {
    switch (syntax.kind) {
      case 'number':
        return syntax.digits;
      case 'string':
        return syntax.value;
      case 'at':
        return /^\d{4}-\d\d-\d\d$/u.test(syntax.text) ? syntax.text : null;
      case 'negative':
        return syntax.of.kind === 'number' ? `-${syntax.of.digits}` : null;
      case 'call': {
        const [only] = syntax.args;
        return syntax.name === 'date' && syntax.args.length === 1 && only?.value.kind === 'string' ? only.value.value : null;
      }
      default:
        return null;
    }
  }
}

const compared = { '=': 'is', '!=': 'is_not', '<': 'less', '<=': 'at_most', '>': 'more', '>=': 'at_least' } as const;

const isToday = (syntax: Syntax): boolean => syntax.kind === 'call' && syntax.name === 'today' && syntax.args.length === 0;

/** `today() - duration("P7D")` as count and unit. */
function spanFrom(syntax: Syntax, op: '+' | '-'): readonly [string, Unit] | null {
  if (syntax.kind !== 'arithmetic' || syntax.op !== op || !isToday(syntax.left)) return null;
  const { right } = syntax;
  const text =
    right.kind === 'at'
      ? right.text
      : right.kind === 'call' && right.name === 'duration' && right.args[0]?.value.kind === 'string'
        ? right.args[0].value.value
        : '';
  const parts = /^P(\d{1,4})([DMY])$/u.exec(text);
  return parts === null ? null : [parts[1] ?? '', parts[2] === 'D' ? 'days' : parts[2] === 'M' ? 'months' : 'years'];
}

/** Whether the last step asks for a part of a date, which is no field to choose. */
const isPart = (syntax: Extract<Syntax, { kind: 'path' }>, scope: Scope, spell: (name: string) => string): boolean => {
  const owner = typeOfPath(write(syntax.of, spell), scope);
  return owner !== null && owner.kind !== 'record';
};
