import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { check } from '../expression/check.js';
import { constantDefault } from '../expression/bring.js';
import { emptyDesign } from '../parts/parse.js';
import { plainReading } from '../import/survey.js';
import { printTyped } from './computed.js';
import { fieldKindNames, fieldKinds, FieldPlan, kindOf, loadKinds, parseValue, proposedKind } from './kinds.js';
import { localeOf, standardLocale } from '../values/locale.js';
import { regions } from '../values/regions.js';
import { MapAddress } from '../design/design.js';
import { mapAddressOf, pointOf } from './place.js';
import { isReference, type Value } from './value.js';

const locale = standardLocale();
await loadKinds(fieldKindNames);
const field = (more: object): FieldPlan => FieldPlan.parse({ id: 'f_a', name: 'A', ...more });
const plans: Partial<Record<FieldPlan['kind'], FieldPlan>> = {
  text: field({ kind: 'text' }),
  long_text: field({ kind: 'long_text' }),
  whole: field({ kind: 'whole' }),
  decimal: field({ kind: 'decimal', digits: 2 }),
  money: field({ kind: 'money', currency: 'EUR' }),
  percent: field({ kind: 'percent', digits: 1 }),
  date: field({ kind: 'date' }),
  yes_no: field({ kind: 'yes_no' }),
  choice: field({ kind: 'choice', choices: [{ id: 'low', label: 'Low stores' }] }),
  reference: field({ kind: 'reference', relationship: 'r_a' }),
  formula: field({ kind: 'formula', expression: '1' }),
};
/** A field of a kind: one of those that the examples below are about, else a sample. */
const plan = (kind: FieldPlan['kind']): FieldPlan => plans[kind] ?? field({ kind, ...fieldKinds[kind].sample.settings[0] });

test.each<[string, FieldPlan['kind']]>([
  ['Name', 'text'],
  ['Mail address', 'mail_address'],
  ['Mail sent on', 'date'],
  ['Member since', 'date'],
  ['Price of a jar', 'money'],
  ['Humidity, %', 'percent'],
  ['Weight', 'decimal'],
  ['Number of notes', 'whole'],
  ['Queen year', 'whole'],
  ['Notes', 'long_text'],
  ['Web page', 'web_address'],
  ['Is it paid?', 'yes_no'],
  ['Paid', 'yes_no'],
  ['Opening time', 'time'],
  ['Took', 'duration'],
  ['Paidback', 'text'],
])('a field called %s is proposed to be of the kind %s', (name, kind) => expect(proposedKind(name)).toBe(kind));

test.each([
  ['14 Sep 2026, 9:30', '2026-09-14T08:30:00Z'],
  ['14/9/2026 21.05', '2026-09-14T20:05:00Z'],
  ['2026-01-14T09:30:15', '2026-01-14T09:30:15Z'],
  ['14 Sep 2026 at 9 pm', '2026-09-14T20:00:00Z'],
  ['14 January 2026', '2026-01-14T00:00:00Z'],
  ['2026-09-14T08:30:00Z', '2026-09-14T08:30:00Z'],
])('a date and time reads %s on the clocks of London', (typed, value) => {
  const moment = field({ kind: 'date_and_time' });
  expect(parseValue(moment, typed, localeOf('en-GB', 'Europe/London'))).toEqual({ ok: true, value });
});
test('a date and time is printed on the clocks of the app, and refused in words', () => {
  const moment = field({ kind: 'date_and_time' });
  expect(kindOf(moment).value.print('2026-09-14T08:30:00Z', moment, localeOf('en-US', 'America/New_York'))).toBe('Sep 14, 2026, 4:30 AM');
  for (const typed of ['tomorrow or so', '9:30', '14 Sep 2026, 25:00', '14 Sep 1950, 9:30'])
    expect(parseValue(moment, typed, locale)).toEqual({ ok: false, problem: `"${typed}" is not a date and time. Write it like 14 Sep 2026, 08:30` });
  for (const value of ['2026-02-30T08:30:00Z', '2026-09-14 08:30', '1969-12-31T23:59:59Z', 12])
    expect(kindOf(moment).value.problem(value, moment)).not.toBeNull();
});
test('what is computed prints moments, times and durations as their fields do', () => {
  expect(printTyped({ type: 'date and time', digits: null, unit: null }, '2026-09-14T21:30:00', locale)).toBe('14 Sep 2026, 21:30');
  expect(printTyped({ type: 'time', digits: null, unit: null }, '09:30:00', locale)).toBe('09:30');
  expect(printTyped({ type: 'days and time duration', digits: null, unit: null }, 'P1DT2H', locale)).toBe('1 d 2 h');
});

describe('each kind', () => {
  test.each(fieldKindNames)('%s takes empty text as null and prints null as nothing', (kind) => {
    expect(parseValue(plan(kind), '', locale)).toEqual({ ok: true, value: null });
    expect(kindOf(plan(kind)).value.print(null, plan(kind), locale)).toBe('');
  });

  test.each<[FieldPlan['kind'], string, unknown]>([
    ['any_money', '12.50', '12.5 EUR'],
    ['any_money', '12.50 USD', '12.5 USD'],
    ['any_money', 'usd 1,200', '1200 USD'],
    ['any_money', '-5chf', '-5 CHF'],
    ['any_money', '€3', '3 EUR'],
    ['any_money', '$8.20', '8.2 USD'],
    ['any_money', '-£7', '-7 GBP'],
    ['any_money', 'JPY 500', '500 JPY'],
    ['text', 'a', 'a'],
    ['whole', '1,200', 1200],
    ['whole', '12.0', 12],
    ['decimal', '12.50', '12.5'],
    ['money', '€1,234.50', '1234.5'],
    ['money', '12 EUR', '12'],
    ['money', '-€3', '-3'],
    ['percent', '12.5 %', '0.125'],
    ['percent', '12.5', '0.125'],
    ['percent', '−0.5%', '-0.005'],
    ['date', '14/9/2026', '2026-09-14'],
    ['yes_no', 'Yes', true],
    ['yes_no', 'n', false],
    ['choice', 'low STORES', 'low'],
    ['mail_address', ' Ada.Lunn@Example.ORG ', 'Ada.Lunn@example.org'],
    ['mail_address', 'Ada Lunn <ada@example.org>', 'ada@example.org'],
    ['mail_address', 'mailto:ada@example.org', 'ada@example.org'],
    ['web_address', 'www.Example.org/Path?x=1', 'https://www.example.org/Path?x=1'],
    ['web_address', 'HTTP://example.org:8080', 'http://example.org:8080'],
    ['phone', '020 7946 0018', '+442079460018'],
    ['phone', '+44 (0)20 7946 0018', '+442079460018'],
    ['phone', '0049 30 123456', '+4930123456'],
    ['phone', 'tel:+44-20-7946-0018', '+442079460018'],
    ['phone', '020 7946 0018 ext. 12', '+442079460018;ext=12'],
    ['address', '3 Mill Lane, York YO1 7HH, United Kingdom', '3 Mill Lane\n\nYO1 7HH\nYork\n\nUnited Kingdom'],
    ['address', 'Am Anger 12\n80331 München\nGermany', 'Am Anger 12\n\n80331\nMünchen\n\nGermany'],
    ['address', '12 Oak Street, Apt 4, Springfield, IL 62701, United States', '12 Oak Street\nApt 4\n62701\nSpringfield\nIL\nUnited States'],
    ['address', 'Mill Lane 3; ; 80331; München; ; ', 'Mill Lane 3\n\n80331\nMünchen\n\n'],
    ['address', '3 Mill Lane, York', '3 Mill Lane\n\n\nYork\n\n'],
    ['address', '3 Mill Lane', '3 Mill Lane\n\n\n\n\n'],
    ['place', '53.9576, -1.0827', '53.9576, -1.0827'],
    ['place', '53,9576; -1,0827', '53.9576, -1.0827'],
    ['place', '53.9576 -1.0827', '53.9576, -1.0827'],
    ['place', '53° 57′ 27.36″ N, 1° 4′ 57.72″ W', '53.9576, -1.0827'],
    ['place', 'W 1.0827°, N 53.9576°', '53.9576, -1.0827'],
    ['place', 'geo:53.9576,-1.0827;u=35', '53.9576, -1.0827'],
    ['place', 'https://maps.example.org/@53.9576,-1.0827,15z', '53.9576, -1.0827'],
    ['place', 'https://maps.example.org/?mlat=53.9576&mlon=-1.0827#map=12/53.9/-1.0', '53.9576, -1.0827'],
    ['place', 'https://maps.example.org/#map=12/53.9576/-1.0827', '53.9576, -1.0827'],
    ['time', '9', '09:00:00'],
    ['time', '930', '09:30:00'],
    ['time', '9.30 pm', '21:30:00'],
    ['time', '12 am', '00:00:00'],
    ['time', '21h05', '21:05:00'],
    ['time', '09:30:15', '09:30:15'],
    ['duration', '1:30', 5400],
    ['duration', '90 min', 5400],
    ['duration', '2 d 4 h', 187_200],
    ['duration', '1h30', 5400],
    ['duration', '1,5 h', 5400],
    ['duration', '-0:00:15', -15],
  ])('%s reads %s', (kind, typed, value) => {
    expect(parseValue(plan(kind), typed, locale)).toEqual({ ok: true, value });
    expect(kindOf(plan(kind)).value.problem(value, plan(kind))).toBeNull();
  });

  test.each<[FieldPlan['kind'], string, string]>([
    ['any_money', '12.505 EUR', '"12.505 EUR" is not an amount of money. Write it like 12.50 EUR'],
    ['any_money', '5.5 JPY', '"5.5 JPY" is not an amount of money. Write it like 12.50 EUR'],
    ['any_money', '12 XQX', '"12 XQX" is not an amount of money. Write it like 12.50 EUR'],
    ['any_money', 'EUR', '"EUR" is not an amount of money. Write it like 12.50 EUR'],
    ['any_money', 'twelve', '"twelve" is not an amount of money. Write it like 12.50 EUR'],
    ['whole', '1.5', '1.5 is not a whole number'],
    ['whole', '9007199254740993', '9007199254740993 is too large; the largest is 9,007,199,254,740,991'],
    ['decimal', '1.234', '1.234 has more than 2 digits after the point'],
    ['decimal', 'x', '"x" is not a number'],
    ['money', '12.345', '12.345 has more than 2 digits after the point'],
    ['money', '£12', '"£12" is not an amount of money. Write it like 12.50'],
    ['percent', '1.25%', '1.25% has more than 1 digit after the point'],
    ['date', '31/2/2026', '"31/2/2026" is not a date. Write it like 14 Sep 2026'],
    ['yes_no', 'maybe', '"maybe" is neither yes nor no'],
    ['choice', 'High', '"High" is none of: Low stores'],
    ['mail_address', 'ada@example', '"ada@example" is not a mail address. Write it like anna@example.org'],
    ['mail_address', 'a b@example.org', '"a b@example.org" is not a mail address. Write it like anna@example.org'],
    ['web_address', 'javascript:alert(1)', '"javascript:alert(1)" is not a web address. Write it like www.example.org or https://example.org/page'],
    ['web_address', 'ftp://example.org', '"ftp://example.org" is not a web address. Write it like www.example.org or https://example.org/page'],
    ['phone', '12', '"12" is not a phone number. Write it like 020 7946 0018 or +44 20 7946 0018'],
    ['phone', 'call me', '"call me" is not a phone number. Write it like 020 7946 0018 or +44 20 7946 0018'],
    ['place', '91, 0', '"91, 0" is not a place. Write latitude and longitude like 53.9576, -1.0827, or paste the address of a map'],
    ['place', 'York', '"York" is not a place. Write latitude and longitude like 53.9576, -1.0827, or paste the address of a map'],
    ['time', '25:00', '"25:00" is not a time. Write it like 9:30 or 21:05'],
    ['time', '13 pm', '"13 pm" is not a time. Write it like 9:30 or 21:05'],
    ['duration', '90', '"90" is not a duration. Write it like 1:30, 90 min or 2 d'],
    ['duration', '30 min 2 h', '"30 min 2 h" is not a duration. Write it like 1:30, 90 min or 2 d'],
    ['text', 'a\0b', 'The text holds a character (NUL) that cannot be stored'],
    ['text', '\ud800', 'The text holds half of a character; type it again'],
  ])('%s refuses %s in words', (kind, typed, problem) => expect(parseValue(plan(kind), typed, locale)).toEqual({ ok: false, problem }));

  test.each<[FieldPlan['kind'], unknown]>([
    ['whole', 1.5],
    ['whole', '12'],
    ['whole', 2 ** 60],
    ['decimal', 12.5],
    ['decimal', '1e5'],
    ['date', '2026-13-01'],
    ['date', '14 Sep 2026'],
    ['yes_no', 'yes'],
    ['choice', 'Low stores'],
    ['reference', 0],
    ['reference', { id: 1, caption: 'x' }],
    ['text', 12],
    ['mail_address', 'ada@EXAMPLE.org'],
    ['web_address', 'javascript:alert(1)'],
    ['web_address', 'https://example.org/a b'],
    ['phone', '020 7946 0018'],
    ['address', 'York'],
    ['address', '\n\n\n\n\n'],
    ['place', '91, 0'],
    ['place', '1.0, 2'],
    ['time', '9:30'],
    ['time', '24:00:00'],
    ['duration', 1.5],
    ['duration', 'PT1H'],
  ])('%s does not take %s as JSON', (kind, value) => expect(kindOf(plan(kind)).value.problem(value, plan(kind))).not.toBeNull());
});

test('a number whose digits nobody chose shows those that tell something', () => {
  const says = (text: string): string => printTyped({ type: 'number', digits: null, unit: null }, text, locale);
  expect(['12.3333333333333333', '0.0034127777', '-0.5', '1.125', '100', '2.0000000000000001', '0.999999999'].map(says)).toEqual([
    '12.33',
    '0.00341',
    '−0.5',
    '1.125',
    '100',
    '2',
    '1',
  ]);
  expect(printTyped({ type: 'number', digits: 2, unit: null }, '12.3333333333333333', locale)).toBe('12.33');
  expect(printTyped({ type: 'number', digits: 2, unit: null }, '12', locale)).toBe('12.00');
});

/** Every kind with every set of its settings: what a new kind promises, it is held to here before it has a test of its own. */
const samples = fieldKindNames.flatMap((kind) =>
  fieldKinds[kind].sample.settings.map((settings, i) => [`${kind} ${i}`, field({ kind, ...settings })] as const),
);
const holds = (plan: FieldPlan, promise: (value: Exclude<Value, null>) => void): void =>
  fc.assert(fc.property(kindOf(plan).sample.values(fc, plan), (value) => value === null || promise(value)));

describe.each(samples)('%s', (_, plan) => {
  const kind = kindOf(plan);

  test('finds nothing wrong with its own values, which are in their normal form and equal to themselves', () =>
    holds(plan, (value) => {
      expect(kind.value.problem(value, plan)).toBeNull();
      expect(kind.value.normal(value, plan)).toEqual(value);
      expect(kind.value.same(value, JSON.parse(JSON.stringify(value)) as Value)).toBe(true);
      expect(kind.value.same(value, null)).toBe(false);
    }));

  test('reads what a form begins with and what it prints as the same value, in every region', () => {
    if (kind.column === null || plan.kind === 'reference') return;
    // Files are added: their names alone say too little, and so does an address on one line.
    const { saysLess } = kind.column;
    const property = fc.property(kind.sample.values(fc, plan), fc.constantFrom(...regions), (value, region) => {
      const theirs = localeOf(region, 'UTC');
      const typed = kind.value.typed(value, plan, theirs);
      expect(typeof typed === 'string' ? parseValue(plan, typed, theirs) : { ok: true, value: typed }).toEqual({ ok: true, value });
      if (saysLess !== true) expect(parseValue(plan, kind.value.print(value, plan, theirs), theirs)).toEqual({ ok: true, value });
    });
    fc.assert(property, { numRuns: 300 });
  });

  test('says the same in expressions and as a field', () =>
    holds(plan, (value) => {
      const said = kind.feel.from(value, plan, 'parents');
      expect(said).not.toBeNull();
      // Expressions see what files are called and make none, and see an address on one line.
      if (kind.feel.type(plan, 't') === null || said === null || kind.column?.saysLess === true) return;
      expect(kind.feel.to(said, plan)).toEqual(value);
      const written = kind.feel.literal(value, plan);
      const checked = check(written, { design: emptyDesign('Samples'), table: null }, kind.feel.wanted);
      expect(checked.ok).toBe(true);
      // Negative numbers and dates are expressions, not constants.
      const constant = constantDefault({ ...plan, default: written } as FieldPlan);
      if (constant !== undefined) expect(constant).toEqual(value);
    }));

  test('reads the cells that it exports', () =>
    holds(plan, (value) => {
      if (kind.cells.settingsFor === null) return;
      const exported = kind.value.exported(value, plan);
      const cell = typeof exported === 'boolean' ? (exported ? 'yes' : 'no') : String(exported);
      const read = kind.cells.reader?.(plan, plainReading, null)(cell);
      expect(typeof read === 'string' ? kind.cells.value(read) : read).toEqual(value);
    }));

  test('compares references by their records, and no object with anything else', () => {
    const one: Value = { id: 7, caption: 'H-7' };
    expect(kind.value.same(one, { id: 7, caption: 'renamed' })).toBe(plan.kind === 'reference');
    expect(isReference({ added: 'record' })).toBe(false);
  });
});

test('a place leads to its point in the map service of the app', () => {
  const point = pointOf('53.9576, -1.0827');
  if (point === null) throw new Error('That is a place');
  expect(mapAddressOf('https://maps.example.org/?at={latitude},{longitude}&zoom=12', point)).toBe('https://maps.example.org/?at=53.9576,-1.0827&zoom=12');
});
test.each([
  'javascript:alert({latitude},{longitude})',
  'https://maps.example.org/{latitude}',
  'https://maps.example.org/{latitude}/{longitude}" onclick="x',
  '',
])('%s is no map service', (address) => expect(MapAddress.safeParse(address).success).toBe(false));
