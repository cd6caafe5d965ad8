import { describe, expect, test } from 'vitest';
import { format } from './format.js';
import { inWords } from './in-words.js';
import { standardLocale } from '../values/locale.js';
import { design, nodeOf, scope } from './sample.js';

describe('reading back in plain words', () => {
  test.each([
    ['Unit price > 3 and Apiary.Region = "Moor"', 'Unit price is more than 3 and Region of Apiary is “Moor”'],
    ['count(Visits[Mites >= 5])', 'the number of those of Visits where its Mites is at least 5'],
    ['Stands since < date("2026-05-01")', 'Stands since is before 1 May 2026'],
    ['Code = null', 'Code is empty'],
    ['sum(Visits.Mites) / 2', 'the sum of the Mites of Visits divided by 2'],
    ['some v in Visits satisfies v.Date = today()', 'for at least one of Visits its Date is today'],
    ['Stands since + duration("P1Y6M")', 'Stands since plus 1 year 6 months'],
  ])('%s', (text, words) => expect(inWords(nodeOf(text), design, standardLocale())).toBe(words));
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
