/** What can be calculated with what (DMN 1.5, tables 55 to 58): one row per way, with both engines side by side. */
import { addMonths, dayMs, duration, moment, months, day, timeOfDay } from './calendar.js';
import { addMonthsToMoment } from './moments.js';
import type { Given } from './functions/function.js';
import type { SqlTools } from './sql-value.js';
import type { ArithmeticOp } from './syntax.js';
import { plainKind, type ScalarType, type Type } from './types.js';
import { Decimal, divide, power, type Day, type Duration, type Feel, type Moment, type Months, type TimeOfDay } from './value.js';

export interface ArithmeticWay {
  readonly op: ArithmeticOp;
  readonly left: ScalarType;
  readonly right: ScalarType;
  readonly gives: ScalarType;
  /** Neither operand is null. */
  readonly evaluate: (a: Feel, b: Feel, given: Given) => Feel;
  readonly sql: (a: string, b: string, tools: SqlTools) => string;
}

const dtd = 'days and time duration';
const ymd = 'years and months duration';
const dt = 'date and time';

const way = (
  left: ScalarType,
  op: ArithmeticOp,
  right: ScalarType,
  gives: ScalarType,
  evaluate: ArithmeticWay['evaluate'],
  sql: ArithmeticWay['sql'],
): ArithmeticWay => ({ op, left, right, gives, evaluate, sql });

const num = (value: Feel): Decimal => value as Decimal;
const ms = (value: Feel): number => (value as Duration).ms;
const mm = (value: Feel): number => (value as Months).months;
const days = (value: Feel): number => (value as Day).days;

/** Towards zero, and null for what no length of time can be. */
const cut = (value: Decimal | null): number => (value === null || value.abs().gt(1e16) ? Infinity : value.trunc().toNumber());

const addTo = (sign: 1 | -1): readonly ArithmeticWay[] => {
  const op = sign === 1 ? '+' : '-';
  return [
    way(
      'date',
      op,
      dtd,
      'date',
      (a, b) => day(Math.floor((days(a) * dayMs + sign * ms(b)) / dayMs)),
      (a, b) => `feel.day((${a} - DATE '1970-01-01') + floor((${sign} * ${b}) / 86400000))`,
    ),
    way(
      'date',
      op,
      ymd,
      'date',
      (a, b) => addMonths(a as Day, sign * mm(b)),
      (a, b) => `feel.add_months(${a}, ${sign} * ${b})`,
    ),
    way(
      dt,
      op,
      dtd,
      dt,
      (a, b) => moment((a as Moment).ms + sign * ms(b)),
      (a, b) => `feel.at_ms(feel.ms_of(${a}) ${op} ${b})`,
    ),
    way(
      dt,
      op,
      ymd,
      dt,
      (a, b, { zone }) => addMonthsToMoment(a as Moment, sign * mm(b), zone),
      (a, b, tools) => `feel.add_months(${a}, ${sign} * ${b}, ${tools.zone})`,
    ),
    way(
      'time',
      op,
      dtd,
      'time',
      (a, b) => timeOfDay((a as TimeOfDay).ms + sign * ms(b)),
      (a, b) => `mod(mod(${a} ${op} ${b}, 86400000) + 86400000, 86400000)`,
    ),
    way(
      dtd,
      op,
      dtd,
      dtd,
      (a, b) => duration(ms(a) + sign * ms(b)),
      (a, b) => `feel.duration(${a} ${op} ${b})`,
    ),
    way(
      ymd,
      op,
      ymd,
      ymd,
      (a, b) => months(mm(a) + sign * mm(b)),
      (a, b) => `feel.months(${a} ${op} ${b})`,
    ),
  ];
};

const arithmeticWays: readonly ArithmeticWay[] = [
  way(
    'number',
    '+',
    'number',
    'number',
    (a, b) => num(a).plus(num(b)),
    (a, b) => `(${a} + ${b})`,
  ),
  way(
    'number',
    '-',
    'number',
    'number',
    (a, b) => num(a).minus(num(b)),
    (a, b) => `(${a} - ${b})`,
  ),
  way(
    'number',
    '*',
    'number',
    'number',
    (a, b) => num(a).times(num(b)),
    (a, b) => `(${a} * ${b})`,
  ),
  way(
    'number',
    '/',
    'number',
    'number',
    (a, b) => divide(num(a), num(b)),
    (a, b) => `feel.divide(${a}, ${b})`,
  ),
  way(
    'number',
    '**',
    'number',
    'number',
    (a, b) => power(num(a), num(b)),
    (a, b) => `feel.power(${a}, ${b})`,
  ),
  way(
    'string',
    '+',
    'string',
    'string',
    (a, b) => `${a as string}${b as string}`,
    (a, b) => `(${a} || ${b})`,
  ),
  ...addTo(1),
  ...addTo(-1),
  way(
    dtd,
    '+',
    'date',
    'date',
    (a, b) => day(Math.floor((days(b) * dayMs + ms(a)) / dayMs)),
    (a, b) => `feel.day((${b} - DATE '1970-01-01') + floor(${a} / 86400000))`,
  ),
  way(
    ymd,
    '+',
    'date',
    'date',
    (a, b) => addMonths(b as Day, mm(a)),
    (a, b) => `feel.add_months(${b}, ${a})`,
  ),
  way(
    dtd,
    '+',
    dt,
    dt,
    (a, b) => moment((b as Moment).ms + ms(a)),
    (a, b) => `feel.at_ms(feel.ms_of(${b}) + ${a})`,
  ),
  way(
    'date',
    '-',
    'date',
    dtd,
    (a, b) => duration((days(a) - days(b)) * dayMs),
    (a, b) => `((${a} - ${b})::numeric * 86400000)`,
  ),
  way(
    dt,
    '-',
    dt,
    dtd,
    (a, b) => duration((a as Moment).ms - (b as Moment).ms),
    (a, b) => `(feel.ms_of(${a}) - feel.ms_of(${b}))`,
  ),
  way(
    'time',
    '-',
    'time',
    dtd,
    (a, b) => duration((a as TimeOfDay).ms - (b as TimeOfDay).ms),
    (a, b) => `(${a} - ${b})`,
  ),
  way(
    dtd,
    '*',
    'number',
    dtd,
    (a, b) => duration(cut(num(b).times(ms(a)))),
    (a, b) => `feel.duration(trunc(${a} * ${b}))`,
  ),
  way(
    'number',
    '*',
    dtd,
    dtd,
    (a, b) => duration(cut(num(a).times(ms(b)))),
    (a, b) => `feel.duration(trunc(${a} * ${b}))`,
  ),
  way(
    dtd,
    '/',
    'number',
    dtd,
    (a, b) => duration(cut(divide(new Decimal(ms(a)), num(b)))),
    (a, b) => `feel.duration(trunc(feel.divide(${a}, ${b})))`,
  ),
  way(
    dtd,
    '/',
    dtd,
    'number',
    (a, b) => divide(new Decimal(ms(a)), new Decimal(ms(b))),
    (a, b) => `feel.divide(${a}, ${b})`,
  ),
  way(
    ymd,
    '*',
    'number',
    ymd,
    (a, b) => months(cut(num(b).times(mm(a)))),
    (a, b) => `feel.months(trunc(${a} * ${b}))`,
  ),
  way(
    'number',
    '*',
    ymd,
    ymd,
    (a, b) => months(cut(num(a).times(mm(b)))),
    (a, b) => `feel.months(trunc(${a} * ${b}))`,
  ),
  way(
    ymd,
    '/',
    'number',
    ymd,
    (a, b) => months(cut(divide(new Decimal(mm(a)), num(b)))),
    (a, b) => `feel.months(trunc(feel.divide(${a}, ${b})))`,
  ),
  way(
    ymd,
    '/',
    ymd,
    'number',
    (a, b) => divide(new Decimal(mm(a)), new Decimal(mm(b))),
    (a, b) => `feel.divide(${a}, ${b})`,
  ),
];

const table = new Map(arithmeticWays.map((arithmeticWay) => [`${arithmeticWay.left} ${arithmeticWay.op} ${arithmeticWay.right}`, arithmeticWay]));
export const wayOf = (left: Type, op: ArithmeticOp, right: Type): ArithmeticWay | undefined => table.get(`${plainKind(left)} ${op} ${plainKind(right)}`);
