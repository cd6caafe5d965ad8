import fc from 'fast-check';
import { expect, test } from 'vitest';
import { tableOf } from '../design/read.js';
import { splitRows } from '../import/split.js';
import { designOf, field, table } from '../parts/sample.js';
import { csvLine, recordHeading, withoutGuard } from './csv.js';

test('a line says values as they are read again', () => {
  expect(csvLine(['a', 1.5, '2026-05-01', true, false, null, { id: 3, caption: 'Ada, Wren' }])).toBe('a,1.5,2026-05-01,yes,no,,"Ada, Wren"\r\n');
  expect(csvLine(['say "no"', 'two\nlines'])).toBe('"say ""no""","two\nlines"\r\n');
});

test('words that a spreadsheet would carry out are made words, numbers are not', () => {
  expect(csvLine(['=1+1', '-5', '@x'], (place) => place !== 1)).toBe("'=1+1,-5,'@x\r\n");
});

test('whatever the texts, an import reads the same cells', () => {
  fc.assert(
    fc.property(fc.array(fc.array(fc.string(), { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 6 }), (rows) => {
      const text = rows.map((row) => csvLine(row)).join('');
      expect(splitRows(text, ',').map((row) => [...row])).toEqual(rows);
    }),
  );
});

test('whatever a text begins with, the mark that guards it goes again', () => {
  fc.assert(
    fc.property(fc.string({ unit: fc.constantFrom("'", '=', '-', 'a', ' ', '\t') }), (text) => {
      const [[cell = ''] = []] = splitRows(
        csvLine([text, 'x'], () => true),
        ',',
      );
      expect(cell).not.toMatch(/^[=+\-@\t\r]/u);
      expect(withoutGuard(cell)).toBe(text);
    }),
  );
});

test('the column with the record numbers is called as no field is', () => {
  const named = (...names: string[]) =>
    tableOf(
      designOf([
        table(
          't',
          'T',
          names.map((name, i) => field({ kind: 'text', id: `f_${i}`, name })),
        ),
      ]),
      't',
    );
  expect(recordHeading(named('Code'))).toBe('Record number');
  expect(recordHeading(named('record number', 'Record number 2'))).toBe('Record number 3');
});
