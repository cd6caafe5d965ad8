import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyChange, applyChanges } from '../design/change.js';
import { FieldPlan, type AppDesign } from '../design/design.js';
import type { DesignChange } from '../design/design-change.js';
import { designMessage } from '../design/issues.js';
import { emptyDesign } from '../design/parse.js';
import { tableOf } from '../design/read.js';
import { check } from './check.js';
import { wants } from './scope.js';
import { complete } from './complete.js';
import { comparisons, comparisonsOf, rowsOfText, textOfRows, typeOfPath, type Group, type Row } from './condition-rows.js';
import { evaluate, TooMuch } from './evaluate.js';
import { format } from './format.js';
import { inWords } from './in-words.js';
import { feelName, membersOf } from './names.js';
import { dependenciesOf, renamed } from './rename.js';

const field = (more: object): FieldPlan => FieldPlan.parse(more);
const table = (id: string, name: string, fields: FieldPlan[]): DesignChange => ({
  kind: 'add_table',
  id,
  name,
  description: '',
  section: '',
  form: `fm_${id}`,
  list: `l_${id}`,
  fields,
});
const related = (parent: string, child: string, fieldName: string, childrenName: string): DesignChange => ({
  kind: 'add_relationship',
  id: `r_${child}`,
  parent,
  child,
  fieldId: `${child}_up`,
  fieldName,
  childrenName,
  required: false,
  whenParentRemoved: 'refuse',
});
const changes: readonly DesignChange[] = [
  table('apiaries', 'Apiaries', [
    field({ kind: 'text', id: 'a_name', name: 'Name' }),
    field({
      kind: 'choice',
      id: 'a_region',
      name: 'Region',
      choices: [
        { id: 'moor', label: 'Moor' },
        { id: 'coast', label: 'Coast' },
      ],
    }),
  ]),
  table('hives', 'Hives', [
    field({ kind: 'text', id: 'h_code', name: 'Code' }),
    field({ kind: 'whole', id: 'h_queen', name: 'Queen year' }),
    field({ kind: 'decimal', id: 'h_price', name: 'Unit price' }),
    field({ kind: 'decimal', id: 'h_brood', name: 'Brood, %' }),
    field({ kind: 'date', id: 'h_since', name: 'Stands since' }),
    field({ kind: 'yes_no', id: 'h_gentle', name: 'Gentle' }),
  ]),
  related('apiaries', 'hives', 'Apiary', 'Hives'),
  table('visits', 'Visits', [field({ kind: 'date', id: 'v_date', name: 'Date' }), field({ kind: 'whole', id: 'v_mites', name: 'Mites' })]),
  related('hives', 'visits', 'Hive', 'Visits'),
];
function designOf(all: readonly DesignChange[]): AppDesign {
  const made = applyChanges(emptyDesign('Honey'), all);
  if (!made.ok) throw new Error(made.issues.map(designMessage).join(' '));
  return made.design;
}
const design = designOf(changes);
const scope = { design, table: 'hives' };
const anything = { fits: () => true, says: '' };
const nodeOf = (text: string) => {
  const checked = check(text, scope, anything);
  if (!checked.ok) throw new Error(checked.problems[0]?.message);
  return checked.node;
};
const problemOf = (text: string, wanted = anything as Parameters<typeof check>[2]) => {
  const checked = check(text, scope, wanted);
  return checked.ok ? null : checked.problems[0];
};

describe('names', () => {
  test.each([
    ['Unit price', 'Unit price'],
    ['Price (net)', 'Price net'],
    ['Brood, %', 'Brood'],
    ['2nd visit', '_2nd visit'],
    ['and so on', '_and so on'],
    ['date', '_date'],
    ['Sale-price', 'Sale-price'],
    ['Größe', 'Größe'],
    ['%', ''],
  ])('%s is written %s', (label, name) => expect(feelName(label)).toBe(name));

  test('two labels that come to the same name are called by their columns', () => {
    const both = designOf([
      table('t_x', 'X', [field({ kind: 'whole', id: 'f_a', name: 'Price (#)' }), field({ kind: 'whole', id: 'f_b', name: 'Price ($)' })]),
    ]);
    expect(membersOf(both, 't_x').map((one) => one.name)).toEqual(['price', 'price_2']);
  });

  test('every name of a random table can be written and means its field', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(
          fc.string({ minLength: 1, maxLength: 12, unit: 'grapheme' }).filter((one) => /^[^\p{C}"]+$/u.test(one.trim()) && one.trim() !== ''),
          { minLength: 1, maxLength: 8, selector: (one) => one.trim().toLowerCase() },
        ),
        (names) => {
          const made = applyChanges(emptyDesign('Any'), [
            table(
              't_x',
              'X',
              names.map((name, i) => field({ kind: 'whole', id: `f_${i}`, name })),
            ),
          ]);
          fc.pre(made.ok);
          if (!made.ok) return;
          for (const member of membersOf(made.design, 't_x')) {
            const checked = check(`${member.name} + 1`, { design: made.design, table: 't_x' });
            expect(checked.ok && dependenciesOf(checked.node)[0]?.id, member.name).toBe(member.kind === 'field' ? member.field.id : '');
          }
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('problems are said where they are, in words', () => {
  test.each([
    ['Unit prce * 2', 'Hives has nothing called “Unit prce”. Did you mean Unit price?', 'Unit prce'],
    ['Code + 1', 'A text and a number are not joined by themselves: make it a text with string( ).', '1'],
    ['Apiary.Regoin', 'Apiaries has nothing called “Regoin”. Did you mean Region?', 'Regoin'],
    ['Apiary.Region = "Mor"', 'Region is never “Mor”: it is one of Moor, Coast.', '"Mor"'],
    ['Mites', 'Hives has nothing called “Mites”. Visits has; walk there with a dot.', 'Mites'],
    ['cuont(Visits)', 'There is no function called “cuont”. Did you mean count?', 'cuont'],
    ['Code = 5', 'A text is compared with a number; they are never the same.', 'Code = 5'],
    ['count(Visits', 'A closing bracket ) is missing at the end.', 's'],
    ['"jar', 'This text has no closing quote. Texts stand between two " on one line.', '"'],
    ['Code +', 'Something is missing here: the expression stops in the middle.', '+'],
    ["'jar'", 'Texts stand between double quotes: "jar".', "'"],
    ['if Gentle then 1', 'An if needs both: what it is then, and what else.', '1'],
    ['product([1, 2])', 'product( ) cannot be used in an app. The database cannot multiply a whole list exactly.', 'product'],
    ['date("2026-02-30")', '"2026-02-30" is no date, time or length of time. They look like this: "2026-05-01", "09:30:00", "P2D", "P1Y6M".', '"2026-02-30"'],
    ['matches(Code, "(a")', null, '"(a"'],
    ['me.Nmae', 'The person has nothing called “Nmae”: there are me.Name, me.Mail and me.Roles.', 'Nmae'],
    ['some v in Code satisfies true', 'This must be a list to go through; it is a text.', 'Code'],
  ])('%s', (text, message, at) => {
    const problem = problemOf(text);
    if (message !== null) expect(problem?.message).toBe(message);
    expect(text.slice(problem?.from, problem?.to)).toBe(at);
  });
  test('what a place needs is said', () =>
    expect(problemOf('Unit price', wants.truth)?.message).toBe('This must be yes or no, such as a comparison. It is a number.'));
});

describe('hostile expressions end in a problem at once', () => {
  test.each([
    ['very deep', '('.repeat(2000) + '1' + ')'.repeat(2000)],
    ['deep without brackets', '-'.repeat(1900) + '1'],
    ['deep ifs', 'if Gentle then '.repeat(130)],
    ['very long', 'Unit price + '.repeat(100_000) + '1'],
    ['a long chain', `1${' + 1'.repeat(490)}`],
    ['many words', 'a '.repeat(990)],
    ['a catastrophic pattern', 'matches(Code, "^(a+)+\\\\1$")'],
    ['an ambiguous pattern', 'replace(Code, "(a|a)*b", "")'],
    ['a huge pattern', `matches(Code, "${'(a{1,99}){1,99}'.repeat(9)}")`],
    ['huge exponents', '9 ** 9 ** 9 ** 9 * (Unit price ** 9999) * (Unit price ** 9999) * (Unit price ** 9999)'],
    ['a huge literal', `1${'0'.repeat(500)}`],
    ['a huge exponent of a literal', '1e999999999'],
    ['a huge range', 'count(for i in 1..10000000 return i)'],
  ])('%s', (_, text) => {
    // Once before, so that the time is that of the checker and not of a runtime that is just waking up.
    problemOf(text);
    const began = Date.now();
    const problem = problemOf(text);
    expect(Date.now() - began).toBeLessThan(100);
    expect(problem?.message).toBeTruthy();
  });

  test('formulas that double one another end before they fill the memory', () => {
    let grown = design;
    let refused: string | null = null;
    for (let n = 1; n < 40 && refused === null; n += 1) {
      const before = n === 1 ? 'Unit price' : `Grown ${n - 1}`;
      const result = applyChange(grown, {
        kind: 'add_field',
        table: 'hives',
        field: field({ kind: 'formula', id: `h_g${n}`, name: `Grown ${n}`, expression: `${before} + ${before}` }),
      });
      if (result.ok) grown = result.design;
      else refused = result.issues.map(designMessage).join(' ');
    }
    expect(refused).toMatch(/With the formulas it uses this comes to more than 3000 parts/u);
  });

  test.each([
    'count(for i in 1..1000, j in 1..1000 return 1)',
    'count(distinct values(for i in 1..10000 return i))',
    'count(mode(for i in 1..10000 return i))',
  ])('long lists end as a value or as too much: %s', (text) => {
    const around = { now: 0, zone: 'UTC', me: { Name: '', Mail: '', Roles: [] }, self: null, records: { value: () => null, children: () => [] } };
    const began = Date.now();
    try {
      evaluate(nodeOf(text), around);
    } catch (error) {
      expect(error).toBeInstanceOf(TooMuch);
    }
    expect(Date.now() - began).toBeLessThan(3000);
  });

  test('nothing that is typed makes the checker throw', () => {
    const word = fc.constantFrom(
      'Unit price',
      'Visits',
      '.',
      '[',
      ']',
      '(',
      ')',
      'if',
      'then',
      'else',
      'for',
      'in',
      'return',
      '"',
      '@"',
      '1',
      '..',
      '+',
      '-',
      '**',
      'and',
      'not',
      'some',
      'satisfies',
      '{',
      '}',
      ':',
      ',',
      '=',
      '<',
      'me',
      'item',
      '?',
      'date',
      'count',
      'function',
      '\n',
      '//',
      '🐝',
      '`',
      '\\',
    );
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ unit: 'grapheme', maxLength: 60 }),
          fc.array(word, { maxLength: 14 }).map((all) => all.join(' ')),
        ),
        (text) => {
          const checked = check(text, scope, anything);
          if (!checked.ok) for (const one of checked.problems) expect(one.from).toBeLessThanOrEqual(one.to);
          complete(text, text.length, scope);
          rowsOfText(text, scope);
          expect(format(text, scope)).toBeTypeOf('string');
        },
      ),
      { numRuns: 500 },
    );
  });
});

describe('renaming', () => {
  const before = designOf([
    ...changes,
    {
      kind: 'add_field',
      table: 'hives',
      field: field({ kind: 'formula', id: 'h_total', name: 'Total', expression: 'Unit price * count( Visits[Mites > 3] ) // the "Unit price" stays' }),
    },
    { kind: 'change_table', table: 'visits', checks: [{ id: 'k_a', condition: 'Hive.Unit price > 0 or Hive.Apiary.Region = "Moor"', message: 'No' }] },
    { kind: 'change_list', list: 'l_visits', condition: 'Hive.Total > 5' },
  ]);
  const after = (change: DesignChange): AppDesign => {
    const result = applyChange(before, change);
    if (!result.ok) throw new Error(result.issues.map(designMessage).join(' '));
    return result.design;
  };
  const formulaIn = (one: AppDesign): string => {
    const total = tableOf(one, 'hives').fields.find((each) => each.id === 'h_total');
    return total?.kind === 'formula' ? total.expression : '';
  };
  test('a field is renamed in every expression that names it, and nothing else is touched', () => {
    const now = after({ kind: 'change_field', table: 'hives', field: field({ kind: 'decimal', id: 'h_price', name: 'Price of one' }) });
    expect(formulaIn(now)).toBe('Price of one * count( Visits[Mites > 3] ) // the "Unit price" stays');
    expect(tableOf(now, 'visits').checks[0]?.condition).toBe('Hive.Price of one > 0 or Hive.Apiary.Region = "Moor"');
    expect(now.lists.find((one) => one.id === 'l_visits')?.condition).toBe('Hive.Total > 5');
  });
  test('the children of a relationship are renamed', () =>
    expect(formulaIn(after({ kind: 'change_relationship', relationship: 'r_visits', childrenName: 'Looks' }))).toContain('count( Looks[Mites > 3] )'));
  test('a choice is renamed where it is compared', () => {
    const now = after({
      kind: 'change_field',
      table: 'apiaries',
      field: field({
        kind: 'choice',
        id: 'a_region',
        name: 'Region',
        choices: [
          { id: 'moor', label: 'High moor' },
          { id: 'coast', label: 'Coast' },
        ],
      }),
    });
    expect(tableOf(now, 'visits').checks[0]?.condition).toContain('"High moor"');
  });
  test('a caption follows its field', () =>
    expect(tableOf(after({ kind: 'change_field', table: 'hives', field: field({ kind: 'text', id: 'h_code', name: 'Mark' }) }), 'hives').caption).toBe('Mark'));
  test('a name that becomes shared is written by its column', () => {
    const now = after({ kind: 'add_field', table: 'hives', field: field({ kind: 'decimal', id: 'h_other', name: 'Unit price (old)' }) });
    expect(formulaIn(now)).toContain('Unit price *');
    const clash = after({ kind: 'add_field', table: 'hives', field: field({ kind: 'decimal', id: 'h_other', name: 'Unit price, %' }) });
    expect(formulaIn(clash)).toContain('unit_price *');
  });
  test.each<[DesignChange, RegExp]>([
    [{ kind: 'remove_field', table: 'hives', field: 'h_price' }, /The formula Total of Hives: Hives has nothing called “Unit price”/u],
    [{ kind: 'remove_table', table: 'visits' }, /The formula Total of Hives/u],
    [{ kind: 'change_field', table: 'hives', field: field({ kind: 'text', id: 'h_price', name: 'Unit price' }) }, /cannot be multiplied/u],
    [
      { kind: 'add_field', table: 'hives', field: field({ kind: 'formula', id: 'h_a', name: 'Loop', expression: 'Loop + 1' }) },
      /it goes in a circle: Hives.Loop needs Hives.Loop/u,
    ],
    [{ kind: 'change_list', list: 'l_visits', condition: 'Mites' }, /The condition of the list Visits: This must be yes or no/u],
    [
      { kind: 'change_field', table: 'hives', field: field({ kind: 'whole', id: 'h_queen', name: 'Queen year', default: '"x"' }) },
      /The default of Queen year in Hives: This must be a number/u,
    ],
  ])('what an expression needs is not taken away: %j', (change, message) => {
    const result = applyChange(before, change);
    expect(result.ok ? '' : result.issues.map(designMessage).join(' ')).toMatch(message);
  });
  test('a text that cannot be read is left alone', () => expect(renamed('Unit price +', scope, design)).toBe('Unit price +'));
});

describe('reading back in plain words', () => {
  test.each([
    ['Unit price > 3 and Apiary.Region = "Moor"', 'Unit price is more than 3 and Region of Apiary is “Moor”'],
    ['count(Visits[Mites >= 5])', 'the number of those of Visits where its Mites is at least 5'],
    ['Stands since < date("2026-05-01")', 'Stands since is before 1 May 2026'],
    ['Code = null', 'Code is empty'],
    ['sum(Visits.Mites) / 2', 'the sum of the Mites of Visits divided by 2'],
    ['some v in Visits satisfies v.Date = today()', 'for at least one of Visits its Date is today'],
    ['Stands since + duration("P1Y6M")', 'Stands since plus 1 year 6 months'],
  ])('%s', (text, words) => expect(inWords(nodeOf(text), design)).toBe(words));
});

describe('one way of writing', () => {
  test.each([
    ['Unit price*2+ 1', 'Unit price * 2 + 1'],
    ['(Unit price*(2))', 'Unit price * 2'],
    ['(1+2)*3-(4-5)', '(1 + 2) * 3 - (4 - 5)'],
    ['if Gentle then 1 else(2)', 'if Gentle then 1 else 2'],
    ['(Gentle or Code="a")and Gentle', '(Gentle or Code = "a") and Gentle'],
    ['Queen year in[1..5)', 'Queen year in [1..5)'],
    ['count(  Visits[ Mites>1 ] )', 'count(Visits[Mites > 1])'],
    ['1 // why', '1 // why'],
  ])('%s becomes %s', (text, wanted) => expect(format(text, scope)).toBe(wanted));
});

describe('completion', () => {
  const labels = (text: string): string[] => {
    const { from, options } = complete(text, text.length, scope);
    const typed = text.slice(from).toLowerCase();
    return options.filter((one) => one.label.toLowerCase().startsWith(typed)).map((one) => one.label);
  };
  test.each([
    ['Unit p', 'Unit price'],
    ['1 + Unit p', 'Unit price'],
    ['Apiary.', 'Region'],
    ['Apiary.Re', 'Region'],
    ['count(Visits[Mi', 'Mites'],
    ['some v in Visits satisfies v.', 'Mites'],
    ['for v in Visits return v.Mi', 'Mites'],
    ['Apiary.Region = ', '"Moor"'],
    ['Apiary.Region = "Co', '"Coast"'],
    ['me.N', 'Name'],
    ['m', 'me.Name'],
    ['strin', 'string()'],
    ['Stands since.', 'year'],
    ['sum(Visits.', 'Mites'],
  ])('%s offers %s', (text, wanted) => expect(labels(text)).toContain(wanted));
  test('nothing of another table is offered', () => expect(labels('Mi')).not.toContain('Mites'));
});

describe('conditions as rows', () => {
  test.each([
    'Code = "H-1"',
    'Code != null and Unit price > 3.5',
    'Gentle = true or Apiary.Region in ("Moor", "Coast")',
    'Unit price > 3 and (Code = "a" or contains(Code, "b"))',
    'Stands since between today() - duration("P7D") and today()',
    'Stands since between today() and today() + duration("P3M")',
    'Stands since.year = today().year and Stands since.month = today().month',
    'Stands since.year = today().year',
    'Stands since = today()',
    'Stands since >= date("2026-05-01")',
    'Queen year between 2020 and 2026',
    'Apiary = null',
    'Unit price > -2',
  ])('%s is rows, and they are the same text', (text) => {
    const rows = rowsOfText(text, scope);
    expect(rows).not.toBeNull();
    expect(textOfRows(rows ?? { kind: 'group', join: 'and', of: [] }, scope).replace(/[()]/gu, '')).toBe(text.replace(/[()]/gu, ''));
    expect(rowsOfText(textOfRows(rows ?? { kind: 'group', join: 'and', of: [] }, scope), scope)).toEqual(rows);
  });
  test.each(['count(Visits) > 3', 'Unit price > Queen year', 'not(Gentle)', 'Unit price * 2 > 3', 'Code = upper case("a")', 'Stands since.day = 3'])(
    '%s stays a text',
    (text) => expect(rowsOfText(text, scope)).toBeNull(),
  );

  const paths = ['Code', 'Queen year', 'Unit price', 'Brood', 'Stands since', 'Gentle', 'Apiary', 'Apiary.Name', 'Apiary.Region'];
  const valueFor = (kind: string): fc.Arbitrary<string> =>
    kind === 'number'
      ? fc.integer({ min: -999, max: 999 }).map(String)
      : kind === 'date'
        ? fc.constantFrom('2026-05-01', '2024-02-29')
        : kind === 'choice'
          ? fc.constantFrom('Moor', 'Coast')
          : fc.constantFrom('a', 'x "y"', 'ß\\', '1');
  const row: fc.Arbitrary<Row> = fc.constantFrom(...paths).chain((path) => {
    const type = typeOfPath(path, scope);
    if (type === null) throw new Error(path);
    return fc.constantFrom(...comparisonsOf(type)).chain((comparison): fc.Arbitrary<Row> => {
      const value = valueFor(type.kind);
      const values: fc.Arbitrary<readonly string[]> = {
        none: fc.constant([]),
        one: fc.tuple(value),
        two: fc.tuple(value, value),
        many: fc.array(value, { minLength: 1, maxLength: 3 }),
        span: fc.tuple(fc.integer({ min: 1, max: 99 }).map(String), fc.constantFrom('days', 'months', 'years')),
      }[comparisons[comparison].values];
      return values.map((all) => ({ kind: 'row', path, comparison, values: all }));
    });
  });
  const group = (join: 'and' | 'or', inner: fc.Arbitrary<Row | Group>): fc.Arbitrary<Group> =>
    fc.array(inner, { minLength: 2, maxLength: 3 }).map((of) => ({ kind: 'group', join, of }));
  test('any rows come back from their text', () => {
    fc.assert(
      fc.property(fc.oneof(group('and', fc.oneof(row, group('or', row))), group('or', fc.oneof(row, group('and', row)))), (rows) => {
        const text = textOfRows(rows, scope);
        expect(check(text, scope, wants.truth).ok, text).toBe(true);
        expect(rowsOfText(text, scope)).toEqual(rows);
      }),
      { numRuns: 400 },
    );
  });
});
