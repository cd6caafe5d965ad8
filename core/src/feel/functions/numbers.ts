import { types } from '../types.js';
import { Decimal, divide, exponential, naturalLog, squareRoot, type Feel } from '../value.js';
import { accepts, always, optional, parameter, scalars, inLibrary, type BuiltIn } from './function.js';

const mostPlaces = 300;
const ways = {
  'half even': Decimal.ROUND_HALF_EVEN,
  down: Decimal.ROUND_DOWN,
  up: Decimal.ROUND_UP,
  'half up': Decimal.ROUND_HALF_UP,
  'half down': Decimal.ROUND_HALF_DOWN,
  floor: Decimal.ROUND_FLOOR,
  ceiling: Decimal.ROUND_CEIL,
} as const;

function rounded(value: Decimal, scale: Decimal, way: keyof typeof ways): Feel {
  if (!scale.isInteger() || scale.abs().gt(mostPlaces)) return null;
  const unit = new Decimal(10).pow(scale.neg());
  return value.toNearest(unit, ways[way]);
}

const rounding = (name: string, way: keyof typeof ways, help: string, examples: BuiltIn['examples'], scaleOptional: boolean): BuiltIn => ({
  name,
  group: 'Numbers',
  parameters: [parameter('n', accepts.number), scaleOptional ? optional('scale', accepts.number) : parameter('scale', accepts.number)],
  help,
  examples,
  gives: always(types.number),
  strict: true,
  evaluate: ([n, scale]) => rounded(n as Decimal, (scale as Decimal | undefined) ?? new Decimal(0), way),
  sql: scalars(([n, scale]) => `feel.rounded(${n}, ${scale ?? '0'}, '${way}')`),
});

const ofOneNumber = (
  name: string,
  help: string,
  examples: BuiltIn['examples'],
  evaluate: (n: Decimal) => Feel,
  sql: BuiltIn['sql'],
  gives = types.number,
): BuiltIn => ({
  name,
  group: 'Numbers',
  parameters: [parameter('number', accepts.number)],
  help,
  examples,
  gives: always(gives),
  strict: true,
  evaluate: ([n]) => evaluate(n as Decimal),
  sql,
});

export const numberFunctions: readonly BuiltIn[] = [
  rounding(
    'decimal',
    'half even',
    'Rounds to so many digits after the point; a tie goes to the even digit.',
    [
      ['decimal(1/3, 2)', '0.33'],
      ['decimal(1.5, 0)', '2'],
      ['decimal(2.5, 0)', '2'],
      ['decimal(1234, -2)', '1200'],
    ],
    false,
  ),
  rounding(
    'floor',
    'floor',
    'The next whole number below, or with so many digits after the point.',
    [
      ['floor(1.5)', '1'],
      ['floor(-1.5)', '-2'],
      ['floor(-1.56, 1)', '-1.6'],
    ],
    true,
  ),
  rounding(
    'ceiling',
    'ceiling',
    'The next whole number above, or with so many digits after the point.',
    [
      ['ceiling(1.5)', '2'],
      ['ceiling(-1.5)', '-1'],
      ['ceiling(-1.56, 1)', '-1.5'],
    ],
    true,
  ),
  rounding(
    'round up',
    'up',
    'Rounds away from zero.',
    [
      ['round up(5.5, 0)', '6'],
      ['round up(-5.5, 0)', '-6'],
      ['round up(1.121, 2)', '1.13'],
      ['round up(-1.126, 2)', '-1.13'],
    ],
    false,
  ),
  rounding(
    'round down',
    'down',
    'Rounds towards zero: what is too much is cut off.',
    [
      ['round down(5.5, 0)', '5'],
      ['round down(-5.5, 0)', '-5'],
      ['round down(1.121, 2)', '1.12'],
      ['round down(-1.126, 2)', '-1.12'],
    ],
    false,
  ),
  rounding(
    'round half up',
    'half up',
    'Rounds to the nearest; a tie goes away from zero, as on most bills.',
    [
      ['round half up(5.5, 0)', '6'],
      ['round half up(-5.5, 0)', '-6'],
      ['round half up(1.121, 2)', '1.12'],
      ['round half up(-1.126, 2)', '-1.13'],
    ],
    false,
  ),
  rounding(
    'round half down',
    'half down',
    'Rounds to the nearest; a tie goes towards zero.',
    [
      ['round half down(5.5, 0)', '5'],
      ['round half down(-5.5, 0)', '-5'],
      ['round half down(1.121, 2)', '1.12'],
      ['round half down(-1.126, 2)', '-1.13'],
    ],
    false,
  ),
  {
    name: 'abs',
    group: 'Numbers',
    parameters: [parameter('n', accepts.sized)],
    help: 'The size without its sign.',
    examples: [
      ['abs(10)', '10'],
      ['abs(-10)', '10'],
      ['abs(@"PT5H")', 'duration("PT5H")'],
      ['abs(@"-PT5H")', 'duration("PT5H")'],
    ],
    gives: ([n]) => n ?? types.number,
    strict: true,
    evaluate: ([n]) => {
      if (Decimal.isDecimal(n)) return n.abs();
      if (n === null || typeof n !== 'object' || !('kind' in n)) return null;
      if (n.kind === 'days and time duration') return { kind: n.kind, ms: Math.abs(n.ms) };
      return n.kind === 'years and months duration' ? { kind: n.kind, months: Math.abs(n.months) } : null;
    },
    sql: scalars(([n]) => `abs(${n})`),
  },
  {
    name: 'modulo',
    group: 'Numbers',
    parameters: [parameter('dividend', accepts.number), parameter('divisor', accepts.number)],
    help: 'What is left when the first is divided by the second; it has the sign of the second.',
    examples: [
      ['modulo(12, 5)', '2'],
      ['modulo(-12, 5)', '3'],
      ['modulo(12, -5)', '-3'],
      ['modulo(-12, -5)', '-2'],
      ['modulo(10.1, 4.5)', '1.1'],
      ['modulo(-10.1, 4.5)', '3.4'],
      ['modulo(10.1, -4.5)', '-3.4'],
      ['modulo(1, 0)', 'null'],
    ],
    gives: always(types.number),
    strict: true,
    evaluate: ([a, b]) => {
      const [dividend, divisor] = [a as Decimal, b as Decimal];
      if (divisor.isZero()) return null;
      const rest = dividend.mod(divisor);
      return !rest.isZero() && rest.isNegative() !== divisor.isNegative() ? rest.plus(divisor) : rest;
    },
    sql: inLibrary('modulo'),
  },
  ofOneNumber('sqrt', 'The square root; of a negative number it is empty.', [['sqrt(16)', '4']], squareRoot, inLibrary('sqrt')),
  ofOneNumber('log', 'The natural logarithm; of zero and below it is empty.', [['decimal(log(10), 8)', '2.30258509']], naturalLog, inLibrary('ln')),
  ofOneNumber('exp', 'e to the power of the number.', [['decimal(exp(5), 8)', '148.4131591']], exponential, inLibrary('exp')),
  ofOneNumber(
    'odd',
    'Whether a whole number is odd.',
    [
      ['odd(5)', 'true'],
      ['odd(2)', 'false'],
    ],
    (n) => (n.isInteger() ? !n.mod(2).isZero() : null),
    scalars(([n]) => `(CASE WHEN ${n} = trunc(${n}) THEN mod(${n}, 2) <> 0 END)`),
    types.boolean,
  ),
  ofOneNumber(
    'even',
    'Whether a whole number is even.',
    [
      ['even(5)', 'false'],
      ['even(2)', 'true'],
    ],
    (n) => (n.isInteger() ? n.mod(2).isZero() : null),
    scalars(([n]) => `(CASE WHEN ${n} = trunc(${n}) THEN mod(${n}, 2) = 0 END)`),
    types.boolean,
  ),
];

/** The mean as both engines compute it: one exact sum, divided once. */
export const meanOf = (values: readonly Decimal[]): Feel => divide(sumOf(values), new Decimal(values.length));
export const sumOf = (values: readonly Decimal[]): Decimal => values.reduce((sum, each) => sum.plus(each), new Decimal(0));
