import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { statementDatabase } from '../support.js';

/** Dividing and rounding in the database, to the last digit, against whole numbers of any length: no engine of the language has a part in it. */
let database: Awaited<ReturnType<typeof statementDatabase>>;
beforeAll(async () => {
  database = await statementDatabase();
});
afterAll(() => database.close());

/** A number as a whole one and the digits of it that are after the point. */
interface Exact {
  readonly whole: bigint;
  readonly scale: number;
}
const written = ({ whole, scale }: Exact): string => `${whole}e${-scale}`;
const size = (n: bigint): bigint => (n < 0n ? -n : n);
const ten = (n: number): bigint => 10n ** BigInt(n);

type Way = 'half even' | 'half up' | 'half down' | 'up' | 'down' | 'floor' | 'ceiling';
/** The whole number next to `n / d`, both positive; `sign` is that of the result. */
function nearest(n: bigint, d: bigint, way: Way, sign: bigint): bigint {
  const [cut, rest] = [n / d, n % d];
  const isMore = {
    'half even': rest * 2n > d || (rest * 2n === d && cut % 2n === 1n),
    'half up': rest * 2n >= d,
    'half down': rest * 2n > d,
    up: rest > 0n,
    down: false,
    floor: rest > 0n && sign < 0n,
    ceiling: rest > 0n && sign > 0n,
  }[way];
  return isMore ? cut + 1n : cut;
}

/** The quotient with 34 digits, as decimal128 has them (IEEE 754-2019, 3.5), half to even. */
function divided(a: Exact, b: Exact): Exact {
  if (a.whole === 0n) return { whole: 0n, scale: 0 };
  const sign = a.whole < 0n === b.whole < 0n ? 1n : -1n;
  const [n, d] = [size(a.whole), size(b.whole)];
  let shift = 34 - (String(n).length - String(d).length);
  const cut = (by: number): bigint => (by >= 0 ? (n * ten(by)) / d : n / (d * ten(-by)));
  while (String(cut(shift)).length > 34) shift -= 1;
  const digits = shift >= 0 ? nearest(n * ten(shift), d, 'half even', sign) : nearest(n, d * ten(-shift), 'half even', sign);
  return { whole: sign * digits, scale: shift + a.scale - b.scale };
}

function rounded({ whole, scale }: Exact, places: number, way: Way): Exact {
  if (places >= scale) return { whole, scale };
  const sign = whole < 0n ? -1n : 1n;
  return { whole: sign * nearest(size(whole), ten(scale - places), way, sign), scale: places };
}

const numbers = (most: bigint, scales: number): fc.Arbitrary<Exact> =>
  fc.record({ whole: fc.bigInt({ min: -most, max: most }), scale: fc.integer({ min: 0, max: scales }) });
const everyday = fc.oneof(numbers(1000n, 3), numbers(1_000_000_000n, 4), numbers(10n ** 17n, 12));
const any = fc.oneof(everyday, numbers(10n ** 30n, 30), numbers(10n ** 60n, 60));
/** Over a power of two a quotient ends, and often one digit after the last that is kept: a tie. */
const ties = fc.record({
  odd: fc.bigInt({ min: 10n ** 15n, max: 10n ** 17n }),
  power: fc.integer({ min: 20, max: 34 }),
  scale: fc.integer({ min: 0, max: 8 }),
});

const cases = Number(process.env['EXPRESSION_CASES'] ?? 4000);
const seed = Number(process.env['EXPRESSION_SEED'] ?? 20_261_123);
const sample = <T>(of: fc.Arbitrary<T>, part: number): T[] => fc.sample(of, { numRuns: Math.floor(cases / part), seed });

describe('in the database', () => {
  const holds = async (text: string, columns: readonly (readonly string[])[]): Promise<void> => {
    const { rows } = await database.client.query<Record<string, string>>(text, columns as string[][]);
    expect(rows.slice(0, 5)).toEqual([]);
  };

  test(`${cases} quotients have 34 digits, the last rounded half to even`, async () => {
    const pairs = [
      ...sample(fc.tuple(everyday, everyday), 2),
      ...sample(fc.tuple(any, any), 4),
      ...sample(ties, 4).map(({ odd, power, scale }): [Exact, Exact] => [
        { whole: odd * 2n + 1n, scale },
        { whole: 2n ** BigInt(power), scale: 0 },
      ]),
    ].filter(([, b]) => b.whole !== 0n);
    const isTie = ([a, b]: readonly [Exact, Exact]): boolean => {
      const { scale } = divided(a, b);
      const exact = size(a.whole) * ten(Math.max(0, scale + 40));
      return exact % size(b.whole) === 0n && String(exact / size(b.whole)).replace(/0+$/u, '').length === 35;
    };
    // Ties are what an approximation would get wrong.
    expect(pairs.filter(isTie).length).toBeGreaterThan(20);
    await holds(
      `SELECT a, b, expected, feel.divide(a::numeric, b::numeric)::text AS given FROM unnest($1::text[], $2::text[], $3::text[]) AS u(a, b, expected)
       WHERE feel.divide(a::numeric, b::numeric) IS DISTINCT FROM expected::numeric`,
      [pairs.map(([a]) => written(a)), pairs.map(([, b]) => written(b)), pairs.map(([a, b]) => written(divided(a, b)))],
    );
  });

  test.each<Way>(['half even', 'half up', 'half down', 'up', 'down', 'floor', 'ceiling'])('numbers are rounded %s', async (way) => {
    const halves = fc.record({ whole: fc.bigInt({ min: -100_000n, max: 100_000n }).map((n) => n * 10n + 5n), scale: fc.integer({ min: 1, max: 5 }) });
    const asked = sample(fc.tuple(fc.oneof(everyday, any, halves), fc.integer({ min: -4, max: 12 })), 4);
    await holds(
      `SELECT x, n, expected, feel.rounded(x::numeric, n::numeric, $4)::text AS given FROM unnest($1::text[], $2::text[], $3::text[]) AS u(x, n, expected)
       WHERE feel.rounded(x::numeric, n::numeric, $4) IS DISTINCT FROM expected::numeric`,
      [asked.map(([x]) => written(x)), asked.map(([, n]) => String(n)), asked.map(([x, n]) => written(rounded(x, n, way))), way as never],
    );
  });

  test.each([
    ['feel.divide(NULL, 1)'],
    ['feel.divide(1, NULL)'],
    ['feel.divide(1, 0)'],
    [`feel.rounded(NULL, 1, 'half even')`],
    [`feel.rounded(1.5, NULL, 'half even')`],
    [`feel.rounded(1.5, 0.5, 'half even')`],
    ['feel.exponent(NULL)'],
    ['feel.modulo(NULL, 1)'],
    ['feel.modulo(1, NULL)'],
    ['feel.modulo(1, 0)'],
    ['feel.in_range(NULL)'],
    ['feel.ln(NULL)'],
    ['feel.exp(NULL)'],
    [`feel.after(NULL, '')`],
    [`feel.after('a', NULL)`],
    [`feel.before(NULL, '')`],
    [`feel.before('a', NULL)`],
    [`feel.ends_with(NULL, '')`],
    ['feel.day(NULL)'],
    ['feel.date(NULL::text)'],
    ['feel.time(NULL::text)'],
    ['feel.time(1, NULL, 0)'],
    ['feel.in_moments(NULL)'],
    [`feel.moment(NULL, 0, 'UTC')`],
    [`feel.moment(DATE '2026-09-14', NULL, 'UTC')`],
    [`feel.moment(NULL::text, 'UTC')`],
    [`feel.date_of(NULL, 'UTC')`],
    ['feel.at_ms(NULL)'],
    ['feel.duration(NULL)'],
    ['feel.months(NULL)'],
    [`feel.add_months(NULL::timestamptz, 1, 'UTC')`],
    [`feel.add_months(now(), NULL, 'UTC')`],
    [`feel.months_between(NULL, DATE '2026-09-14')`],
    ['feel.text_of_time(NULL)'],
    [`feel.text_of(NULL::timestamptz, 'UTC')`],
    ['feel.text_of_months(NULL)'],
  ])('nothing is made of a null: %s', async (call) => {
    expect((await database.client.query<{ v: unknown }>(`SELECT ${call} AS v`)).rows).toEqual([{ v: null }]);
  });
});
