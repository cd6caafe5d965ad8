import { describe, expect, test } from 'vitest';
import { complete } from './complete.js';
import { scope } from './sample.js';

describe('completion', () => {
  const labels = (text: string): string[] => {
    const { from, options } = complete(text, text.length, scope);
    const typed = text.slice(from).toLowerCase();
    return options.filter((option) => option.label.toLowerCase().startsWith(typed)).map((option) => option.label);
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
