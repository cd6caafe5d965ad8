import { describe, expect, test } from 'vitest';
import { check } from './check.js';
import { scope } from './sample.js';
import { wants } from '../feel/wants.js';

/** Each way in which a call or an operator is wrong has its own sentence, at the part that is wrong. */
const problems = (text: string): readonly [string, string] => {
  const checked = check(text, scope, wants.anything);
  if (checked.ok) return ['', ''];
  const [first] = checked.problems;
  return [first?.message ?? '', first === undefined ? '' : text.slice(first.from, first.to)];
};

describe('a call is refused', () => {
  test.each([
    ['date("09:30:00")', 'This is a time of day, not what date( ) makes.', '"09:30:00"'],
    ['duration("2026-05-01")', 'This is a date, not what duration( ) makes.', '"2026-05-01"'],
    ['date and time("P2D")', 'This is a length of time in days and hours, not what date and time( ) makes.', '"P2D"'],
    ['duration(Code)', 'Write a length of time here, such as duration("P2D").', 'Code'],
    ['date("2026", 5)', 'date( ) takes a text, or year, month and day.', 'date("2026", 5)'],
    ['time("09", 30)', 'time( ) takes a text, or hour, minute and second.', 'time("09", 30)'],
    ['date(2026)', 'date( ) takes a text, or three numbers.', 'date(2026)'],
    ['upper case()', 'upper case needs a value for string: upper case(string).', 'upper case()'],
    ['upper case(Code, Code)', 'upper case takes only 1: upper case(string).', 'upper case(Code, Code)'],
    ['today(1)', 'today takes nothing between its brackets: today().', 'today(1)'],
    ['upper case(text: Code)', 'There is no place called “text” in upper case(string).', 'Code'],
    ['substring(string: Code)', 'substring needs a value for start position: substring(string, start position, length?).', 'substring(string: Code)'],
    ['upper case(5)', 'upper case needs a text here; this is a number.', '5'],
    ['max(1, "a")', 'This is a text, the others are a number.', '"a"'],
    ['list contains([1], "a")', 'This is a text, the other a list, each a number: they do not go together.', '"a"'],
    ['before(date("2026-05-01"), 5)', 'This is a number, the other a date: they do not go together.', '5'],
    ['matches(Code, Code)', 'Write this text here in double quotes. It is checked before it runs.', 'Code'],
    ['split(Code, "a*")', 'This pattern matches everywhere, even between two characters. Make it match at least one character.', '"a*"'],
    ['replace(Code, "(a)", "$2")', 'The pattern has not so many groups ( ).', '"$2"'],
    ['replace(Code, "a|ab", "x")', 'This pattern can match the same text in several ways. Make its parts start with different characters.', '"a|ab"'],
    ['matches(Code, "a", "q")', 'The flags of a pattern are i (upper and lower case are the same) and s (a dot is any sign).', '"q"'],
    ['flatten()', 'flatten takes one list of lists.', 'flatten()'],
    ['flatten(Code)', 'flatten needs a list of lists; this is a text.', 'Code'],
    ['flatten([1], [2])', 'flatten takes one list of lists.', 'flatten([1], [2])'],
    ['sort()', 'sort takes a list, and how: sort(Lines, function(a, b) a.Amount < b.Amount).', 'sort()'],
    ['sort(Code)', 'sort needs a list; this is a text.', 'Code'],
    ['sort(Visits)', 'Say how to sort: function(a, b) a.Name < b.Name.', 'Visits'],
    ['sort(Visits, function(a) a.Mites)', 'The order is said as function(a, b) a.Amount < b.Amount, with the same value of both.', 'function(a) a.Mites'],
    ['sort(Visits, 5)', 'The order is said as function(a, b) a.Amount < b.Amount, with the same value of both.', '5'],
    [
      'sort(Visits, function(a, b) a.Mites = b.Mites)',
      'The order is said as function(a, b) a.Amount < b.Amount, with the same value of both.',
      'a.Mites = b.Mites',
    ],
    ['sort(Visits, function(a, b) a.Mites < b.Date)', 'A number is compared with a date; they are never the same.', 'a.Mites < b.Date'],
    [
      'sort(Visits, function(a, b) a.Mites < a.Mites)',
      'The order is said as function(a, b) a.Amount < b.Amount, with the same value of both.',
      'a.Mites < a.Mites',
    ],
    ['sortt(Visits)', 'There is no function called “sortt”. Did you mean sort?', 'sortt'],
  ])('%s', (text, message, at) => expect(problems(text)).toEqual([message, at]));
});
