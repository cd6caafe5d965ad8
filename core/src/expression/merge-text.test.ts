import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyChanges } from '../parts/change.js';
import { filledIn, mappedText, readText } from './merge-text.js';
import { renamed } from './rename.js';
import { design, scope } from './sample.js';

describe('texts with expressions in braces', () => {
  it.each([
    ['Hive {Code} stands.', ['Hive ', 'Code', ' stands.']],
    ['{Code}', ['Code']],
    ['{{as it is}} {Code}', ['{as it is} ', 'Code']],
    ['{if Gentle then "{" else "}"}!', ['if Gentle then "{" else "}"', '!']],
    ['{ {a: Code}.a }', ['{a: Code}.a']],
    ['{"a \\" } b"}', ['"a \\" } b"']],
    ['', []],
  ])('reads %s', (text, pieces) => {
    const read = readText(text);
    expect(read.ok && read.pieces.map((piece) => piece.text)).toEqual(pieces);
  });

  it.each([
    ['Hive {Code stands', 'is not closed'],
    ['Hive Code} stands', 'has no {'],
    ['Hive {} stands', 'Put the name of a field between'],
    ['Hive {"Code} stands', 'is not closed'],
  ])('says what is wrong with %s', (text, problem) => {
    const read = readText(text);
    expect(read.ok ? '' : read.problem).toContain(problem);
  });

  it('gives back any words as they were, however many braces they hold', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.string({ unit: fc.constantFrom('{', '}', 'a', '"', '\n', 'é') }), fc.string()), { maxLength: 5 }), (parts) => {
        const text = parts.map(([words]) => `${words.replace(/[{}]/gu, '$&$&')}{Code}`).join('');
        const values = parts.map(([, value]) => value);
        expect(filledIn(text, values)).toBe(parts.map(([words, value]) => words + value).join(''));
      }),
    );
  });

  it('follows a field that is renamed, in its expressions alone', () => {
    const hives = design.tables.find((table) => table.id === 'hives');
    const code = hives?.fields.find((field) => field.id === 'h_code');
    const made = applyChanges(design, [{ kind: 'change_field', table: 'hives', field: { ...code, name: 'Number' } as never }]);
    if (!made.ok) throw new Error('not renamed');
    expect(mappedText('Code {Code} {{Code}} {Apiary.Name}', (text) => renamed(text, scope, made.design))).toBe('Code {Number} {{Code}} {Apiary.Name}');
    expect(mappedText('Code {Code', (text) => renamed(text, scope, made.design))).toBe('Code {Code');
  });
});
