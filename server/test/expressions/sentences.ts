/** Generated expressions that are well-typed over a design: what is wanted is a type, what comes is a text. */
import { kindOf as fieldKind, membersOf, parentOf, type AppDesign, type Choice } from '@bibliona/core';
import fc from 'fast-check';

export type Kind = 'number' | 'string' | 'boolean' | 'date' | 'time' | 'moment' | 'duration' | 'months';
interface Spot {
  /** What is written to speak of the record, with its dot; empty for the record itself. */
  readonly prefix: string;
  readonly table: string;
}
interface Bound {
  readonly name: string;
  readonly kind: Kind;
}

const kindOfField = {
  text: 'string',
  long_text: 'string',
  choice: 'string',
  phone: 'string',
  address: 'string',
  place: 'string',
  whole: 'number',
  decimal: 'number',
  money: 'number',
  percent: 'number',
  date: 'date',
  time: 'time',
  date_and_time: 'moment',
  duration: 'duration',
  yes_no: 'boolean',
} as const;

export class Sentences {
  private count = 0;
  constructor(
    private readonly design: AppDesign,
    private readonly pick: <T>(of: fc.Arbitrary<T>) => T,
    /** Whether records themselves are spoken of: their numbers, and who created them. */
    private readonly ofRecords = false,
  ) {}

  private one<T>(...of: readonly T[]): T {
    return this.pick(fc.constantFrom(...(of as [T, ...T[]])));
  }
  private chance(percent: number): boolean {
    return this.pick(fc.integer({ min: 0, max: 99 })) < percent;
  }
  private fresh(): string {
    this.count += 1;
    return `v${this.count}`;
  }

  expression(kind: Kind, table: string, depth: number): string {
    return this.of(kind, [{ prefix: '', table }], [], depth);
  }

  private of(kind: Kind, spots: readonly Spot[], bound: readonly Bound[], depth: number): string {
    if (depth <= 0 || this.chance(20)) return this.leaf(kind, spots, bound);
    if (this.chance(8))
      return `(if ${this.of('boolean', spots, bound, depth - 1)} then ${this.of(kind, spots, bound, depth - 1)} else ${this.of(kind, spots, bound, depth - 1)})`;
    if (this.chance(12) && kind !== 'boolean' && kind !== 'moment') return this.fromList(kind, spots, bound, depth);
    const sub = (wanted: Kind): string => this.of(wanted, spots, bound, depth - 1);
    switch (kind) {
      case 'number':
        return this.number(sub, spots, bound, depth);
      case 'string':
        return this.one(
          () => `(${sub('string')} + ${sub('string')})`,
          () => `string(${sub(this.one<Kind>('number', 'date', 'boolean', 'time', 'moment', 'duration', 'months'))})`,
          () => `upper case(${sub('string')})`,
          () => `lower case(${sub('string')})`,
          () => `substring(${sub('string')}, ${this.one('1', '2', '-2', '0', '1.5')})`,
          () => `substring(${sub('string')}, ${sub('number')}, ${this.one('1', '3', '0')})`,
          () => `substring before(${sub('string')}, ${sub('string')})`,
          () => `substring after(${sub('string')}, ${sub('string')})`,
          () => `replace(${sub('string')}, ${this.one('"a"', '"[a-c]+"', '"\\\\s"', '"(\\\\d)(\\\\d)"')}, ${this.one('"x"', '""', '"[$0]"', '"\\\\\\\\"')})`,
          () => `day of week(${sub('date')})`,
          () => `month of year(${sub('date')})`,
          () => `string join(${this.list('string', spots, bound, depth - 1)}, ${this.one('", "', '""')})`,
        )();
      case 'boolean':
        return this.boolean(sub, spots, bound, depth);
      case 'date':
        return this.one(
          () => `(${sub('date')} + ${sub('months')})`,
          () => `(${sub('date')} - ${sub('months')})`,
          () => `(${sub('date')} + ${sub('duration')})`,
          () => `date(${this.one('2024', '2026', '10000')}, ${sub('number')}, ${this.one('29', '31', '1')})`,
          () => `date(${sub('moment')})`,
          () => `date(${sub('string')})`,
          () => `last day of month(${sub('date')})`,
        )();
      case 'time':
        return this.one(
          () => `(${sub('time')} + ${sub('duration')})`,
          () => `(${sub('time')} - ${sub('duration')})`,
          () => `time(${sub('moment')})`,
          () => `time(${sub('number')}, 30, 0.5)`,
          () => `time(${sub('string')})`,
        )();
      case 'moment':
        return this.one(
          () => `date and time(${sub('date')}, ${sub('time')})`,
          () => `(${sub('moment')} + ${sub('duration')})`,
          () => `(${sub('moment')} - ${sub('months')})`,
          () => `date and time(${sub('string')})`,
        )();
      case 'duration':
        return this.one(
          () => `(${sub('date')} - ${sub('date')})`,
          () => `(${sub('moment')} - ${sub('moment')})`,
          () => `(${sub('time')} - ${sub('time')})`,
          () => `(${sub('duration')} * ${sub('number')})`,
          () => `(${sub('duration')} / ${sub('number')})`,
          () => `(${sub('duration')} + ${sub('duration')})`,
          () => `abs(${sub('duration')})`,
          () => `(- ${sub('duration')})`,
        )();
      case 'months':
        return this.one(
          () => `years and months duration(${sub('date')}, ${sub('date')})`,
          () => `(${sub('months')} * ${sub('number')})`,
          () => `(${sub('months')} - ${sub('months')})`,
          () => `(${sub('months')} / ${sub('number')})`,
        )();
      default:
        return kind satisfies never;
    }
  }

  private number(sub: (kind: Kind) => string, spots: readonly Spot[], bound: readonly Bound[], depth: number): string {
    return this.one(
      () => `(${sub('number')} ${this.one('+', '-', '*', '/')} ${sub('number')})`,
      () => `(${sub('number')} / ${sub('number')})`,
      () => `(${sub('number')} ** ${this.one('2', '3', '-1', '-2', '0', '0.5', '17')})`,
      () => `decimal(${sub('number')}, ${this.one('0', '2', '-1', '5')})`,
      () => `${this.one('round up', 'round down', 'round half up', 'round half down')}(${sub('number')}, ${this.one('0', '1', '2', '-1')})`,
      () => `${this.one('floor', 'ceiling', 'abs')}(${sub('number')})`,
      () => `modulo(${sub('number')}, ${sub('number')})`,
      () => `decimal(sqrt(${sub('number')}), 20)`,
      () => `sqrt(abs(${sub('number')}))`,
      () => `log(abs(${sub('number')}))`,
      () => `exp(modulo(${sub('number')}, 20))`,
      () => `string length(${sub('string')})`,
      () => `number(${sub('string')}${this.one('', ', " ", ","', ', null, ","')})`,
      () => `${sub('date')}.${this.one('year', 'month', 'day', 'weekday')}`,
      () => `${sub('moment')}.${this.one('year', 'day', 'hour', 'minute', 'second', 'weekday')}`,
      () => `${sub('time')}.${this.one('hour', 'minute', 'second')}`,
      () => `${sub('duration')}.${this.one('days', 'hours', 'minutes', 'seconds')}`,
      () => `${sub('months')}.${this.one('years', 'months')}`,
      () => `${this.one('day of year', 'week of year')}(${sub('date')})`,
      () => `(${sub('duration')} / ${sub('duration')})`,
      () => `count(${this.list(this.one<Kind>('number', 'string', 'date', 'boolean'), spots, bound, depth - 1)})`,
      () => `${this.one('sum', 'mean', 'median', 'stddev')}(${this.list('number', spots, bound, depth - 1)})`,
      () => `sum(index of(${this.list('string', spots, bound, depth - 1)}, ${sub('string')}))`,
      () => `sum(mode(${this.list('number', spots, bound, depth - 1)}))`,
      () => `(- ${sub('number')})`,
    )();
  }

  private boolean(sub: (kind: Kind) => string, spots: readonly Spot[], bound: readonly Bound[], depth: number): string {
    const ordered = (): Kind => this.one<Kind>('number', 'string', 'date', 'time', 'moment', 'duration', 'months');
    const list = (kind: Kind): string => this.list(kind, spots, bound, depth - 1);
    const quantified = (): string => {
      const kind = this.one<Kind>('number', 'string', 'date');
      const name = this.fresh();
      return `(${this.one('some', 'every')} ${name} in ${list(kind)} satisfies ${this.of('boolean', spots, [...bound, { name, kind }], depth - 1)})`;
    };
    return this.one(
      () => {
        const kind = ordered();
        return `(${sub(kind)} ${this.one('<', '<=', '>', '>=')} ${sub(kind)})`;
      },
      () => {
        const kind = this.one<Kind>(ordered(), 'boolean');
        return `(${sub(kind)} ${this.one('=', '!=')} ${this.chance(20) ? 'null' : sub(kind)})`;
      },
      () => `(${sub('boolean')} ${this.one('and', 'or')} ${sub('boolean')})`,
      () => `not(${sub('boolean')})`,
      () => `(${sub('number')} between ${sub('number')} and ${sub('number')})`,
      () => `(${sub('number')} in ${this.one('[1..5]', '(1..5]', '(1, 2, > 7)', '[1..10)', '(null, 3)')})`,
      () => `(${sub('date')} in [date("2024-01-01")..${sub('date')}])`,
      () => `contains(${sub('string')}, ${sub('string')})`,
      () => `${this.one('starts with', 'ends with')}(${sub('string')}, ${sub('string')})`,
      () => `matches(${sub('string')}, ${this.one('"^[a-z]+$"', '"a|b"', '"(ab)*c?"', '"^.$"', '"[^a-z]"', '"ß"', '"\\\\d{2,4}"')}${this.one('', ', "i"')})`,
      () => `${this.one('odd', 'even')}(${sub('number')})`,
      () => `list contains(${list('number')}, ${sub('number')})`,
      () => `${this.one('all', 'any')}(${list('boolean')})`,
      () => `${this.one('before', 'after')}(${sub('date')}, ${sub('date')})`,
      () =>
        `${this.one('overlaps', 'meets', 'starts', 'finishes', 'includes', 'during', 'coincides', 'before')}([${sub('number')}..${sub('number')}], (${sub('number')}..${sub('number')}])`,
      () => `(${sub('string')} instance of string)`,
      quantified,
      quantified,
    )();
  }

  /** A list of values, mostly from the children of a record. */
  private list(kind: Kind, spots: readonly Spot[], bound: readonly Bound[], depth: number): string {
    const from = this.childrenLists(spots);
    if (from.length > 0 && depth >= 0 && this.chance(60)) {
      const { text, table } = this.one(...from);
      const own = { prefix: '', table };
      const filtered = this.chance(50) ? `${text}[${this.of('boolean', [own], bound, depth - 1)}]` : text;
      const field = this.fieldIn(kind, table);
      if (field !== null && this.chance(60)) return `${filtered}.${field}`;
      const name = this.fresh();
      return `(for ${name} in ${filtered} return ${this.of(kind, [{ prefix: `${name}.`, table }], bound, depth - 1)})`;
    }
    const items = this.pick(fc.integer({ min: 0, max: 3 }));
    const written = `[${Array.from({ length: items }, () => (this.chance(10) ? 'null' : this.of(kind, spots, bound, depth - 1))).join(', ')}]`;
    if (items === 0 || depth <= 0) return written;
    return this.one(
      () => written,
      () => `${written}[item != null]`,
      () => `distinct values(${written})`,
      () => `reverse(${written})`,
      () => `sublist(${written}, ${this.one('1', '-1', '2', '5')}${this.one('', ', 2')})`,
      () => `concatenate(${written}, ${this.list(kind, spots, bound, depth - 1)})`,
      () => `union(${written}, ${written})`,
      () => `append(${written}, ${this.of(kind, spots, bound, depth - 1)})`,
      () => (kind === 'number' ? `(for i in ${this.one('1..3', '3..1', '1..0', `1..${this.of('number', spots, bound, 0)}`)} return i * 2)` : written),
      () => (kind === 'string' ? `split(${this.of('string', spots, bound, depth - 1)}, ${this.one('"a"', '"\\\\s+"', '"[,;]"')})` : written),
      () => (kind === 'number' || kind === 'date' || kind === 'string' ? `sort(${written}, function(a, b) a ${this.one('<', '>')} b)` : written),
    )();
  }

  private fromList(kind: Kind, spots: readonly Spot[], bound: readonly Bound[], depth: number): string {
    // FEEL itself reads [][1 as the beginning of a range that is open on its left.
    const list = this.list(kind, spots, bound, depth - 1).replace(/^\[\]$/u, '([])');
    if (kind !== 'boolean' && this.chance(50)) return `${this.one('min', 'max')}(${list})`;
    return `${list.startsWith('[') || list.startsWith('(') ? list : `(${list})`}[${this.one('1', '-1', '2', '9', '0')}]`;
  }

  private childrenLists(spots: readonly Spot[]): { readonly text: string; readonly table: string }[] {
    return spots.flatMap(({ prefix, table }) =>
      membersOf(this.design, table).flatMap((member) => {
        if (member.kind === 'children') return [{ text: `${prefix}${member.name}`, table: member.relationship.child }];
        if (member.field.kind !== 'reference') return [];
        const parent = parentOf(this.design, member.field).id;
        return membersOf(this.design, parent).flatMap((each) =>
          each.kind === 'children' ? [{ text: `${prefix}${member.name}.${each.name}`, table: each.relationship.child }] : [],
        );
      }),
    );
  }
  private fieldIn(kind: Kind, table: string): string | null {
    const fits = membersOf(this.design, table).filter(
      (member) => member.kind === 'field' && (kindOfField as Readonly<Record<string, Kind>>)[member.field.kind] === kind,
    );
    return fits.length === 0 ? null : this.one(...fits).name;
  }

  /** The names of a kind at hand: fields of the record, of those that it refers to, and what is bound. */
  private named(kind: Kind, spots: readonly Spot[], bound: readonly Bound[]): string[] {
    const fields = (prefix: string, table: string, steps: number): string[] =>
      membersOf(this.design, table).flatMap((member) => {
        if (member.kind === 'children') return [];
        if (member.field.kind === 'reference') {
          const inner = steps > 0 ? fields(`${prefix}${member.name}.`, parentOf(this.design, member.field).id, steps - 1) : [];
          return [...this.ofRecord(kind, `${prefix}${member.name}`), ...inner];
        }
        if (member.field.kind === 'several_choices') return this.ofSeveral(kind, `${prefix}${member.name}`, member.field.choices);
        const parts = Object.entries(fieldKind(member.field).feel.parts ?? {}).filter(([, part]) => part.type.kind === kind);
        return [
          ...((kindOfField as Readonly<Record<string, Kind>>)[member.field.kind] === kind ? [`${prefix}${member.name}`] : []),
          ...parts.map(([part]) => `${prefix}${member.name}.${part}`),
        ];
      });
    return [
      ...bound.filter((each) => each.kind === kind).map((each) => each.name),
      ...spots.flatMap((spot) => [...this.ofRecord(kind, spot.prefix.replace(/\.$/u, '')), ...fields(spot.prefix, spot.table, 2)]),
    ];
  }

  /** What is asked of a field of several choices. */
  private ofSeveral(kind: Kind, name: string, choices: readonly Choice[]): string[] {
    const label = JSON.stringify(choices[0]?.label ?? '');
    switch (kind) {
      case 'number':
        return [`count(${name})`];
      case 'boolean':
        return [`list contains(${name}, ${label})`, `(some s in ${name} satisfies s = ${label})`];
      case 'string':
        return [`string join(${name}, ", ")`, `${name}[1]`, `${name}[-1]`];
      default:
        return [];
    }
  }

  private ofRecord(kind: Kind, record: string): string[] {
    if (!this.ofRecords) return [];
    switch (kind) {
      case 'number':
        return [`record number(${record})`];
      case 'boolean':
        return [`created by me(${record})`];
      case 'string':
        return [`created by(${record})`, `changed by(${record})`];
      case 'moment':
        return [`created at(${record})`, `changed at(${record})`];
      default:
        return [];
    }
  }

  private leaf(kind: Kind, spots: readonly Spot[], bound: readonly Bound[]): string {
    const names = this.named(kind, spots, bound);
    if (names.length > 0 && this.chance(75)) return this.one(...names);
    switch (kind) {
      case 'number':
        return this.one('0', '1', '2', '-3', '0.5', '10', '1234567890123456789012345678.12', '0.000000000001', '7', '100');
      case 'string':
        return this.one('""', '"a"', '"jar"', '"Straße"', '"🐝 bee"', '"12"', '"é\\n"', '"a\\"b"', 'me.Name');
      case 'boolean':
        return this.one('true', 'false', 'list contains(me.Roles, "keeper")');
      case 'date':
        return this.one('date("2024-02-29")', '@"2026-01-31"', 'date("2026-03-29")', 'date("0001-01-01")', 'date("9999-12-31")', 'today()');
      case 'time':
        return this.one('time("10:30:00")', '@"23:59:59.999"', 'time("01:30:00")', 'time("00:00:00")', 'time("02:30:00")');
      case 'moment':
        return this.one(
          'date and time("2026-03-29T00:30:00")',
          'date and time("2026-03-29T01:30:00")',
          'date and time("2026-10-25T01:30:00")',
          'now()',
          '@"2024-02-29T12:00:00"',
          'date and time("1971-01-01T00:00:00")',
        );
      case 'duration':
        return this.one('duration("PT1H")', '@"P1D"', 'duration("-PT90M")', 'duration("P1DT2H3M4.005S")', 'duration("PT0S")', 'duration("P3000000D")');
      case 'months':
        return this.one('duration("P1M")', '@"P1Y"', 'duration("-P13M")', 'duration("P0M")', 'duration("P9999Y")');
      default:
        return kind satisfies never;
    }
  }
}
