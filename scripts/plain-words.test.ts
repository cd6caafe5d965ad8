/** Every text that people read is plain English: no old-fashioned words, and sentences that are easy to read. */
import { fleschKincaid } from 'flesch-kincaid';
import { syllable } from 'syllable';
import { describe, expect, test } from 'vitest';
import { interfaceTexts } from './interface-texts.js';

/** What nobody says, and what to say instead. */
const oldFashioned: readonly (readonly [pattern: RegExp, instead: string])[] = [
  [/\bgiv(?:e|es|en|ing) up\b|\bgave up\b|\bnot now\b/iu, 'cancel, discard'],
  [/\b(?:take|takes|taken|took|taking)\b[^.]{0,20}\bback\b|\btake (?:it|this|them) back\b/iu, 'undo'],
  [/\b(?:bring|brings|bringing|brought) (?:it |them )?(?:in|back|into)\b/iu, 'import, restore, move'],
  [/\bset(?:s|ting)? (?:it |this )?off\b|\bits doing\b/iu, 'start, trigger, run'],
  [/\bwork(?:s|ed|ing)? (?:it )?out\b/iu, 'calculate, formula'],
  [/\bsum(?:s|med|ming)? up\b/iu, 'summary, group'],
  [/\bstand(?:s|ing)?\b|\bstood\b/iu, 'is shown, is in, appears'],
  [/\b(?:whoever|whatever|whichever|lest|whereby|thereof|meanwhile|henceforth|upon|shall)\b/iu, 'who, because, so, until'],
  [/\bmay\b/iu, 'can (allowed), might (possible)'],
  [/\b(?:is|are|be|was) let\b|\blets? (?:in|them|him|her)\b|\bnot yours\b|\btheirs to\b/iu, 'can, access, permission'],
  [/\bany more\b/iu, 'no longer'],
  [/\bis gone\b|\bare gone\b|\bleft behind\b/iu, 'was deleted, left'],
  [/\bmend(?:s|ed|ing)?\b/iu, 'correct, repair'],
  [/\bat the (?:earliest|latest)\b|\bhas these words\b/iu, 'is on or after, is on or before, contains'],
  [/\bmust be filled\b|\bno two records share\b/iu, 'required, unique'],
  [/\bparted by\b|\bpulled\b/iu, 'separator, updated'],
];

/** Texts that hold such a word for a good reason. */
const exceptions = ['Runs with full access, whoever saves the record.'];

const texts = interfaceTexts();

describe('texts that people read', () => {
  test('are found by the hundred', () => expect(texts.length).toBeGreaterThan(500));

  test.each(oldFashioned)('say nothing like %s', (pattern, instead) => {
    const found = texts
      .filter(({ text }) => pattern.test(text) && !exceptions.some((exception) => text.startsWith(exception)))
      .map(({ at, text }) => `${at}: ${text} (say: ${instead})`);
    expect(found).toEqual([]);
  });

  /** Flesch-Kincaid grades: 8 is what people read at about fourteen years of age. Shorter texts are labels, which have no grade. */
  const graded = texts.flatMap(({ at, text }) => {
    const words = text.replaceAll('…', 'it').match(/[\p{L}\d'’]+/gu) ?? [];
    if (words.length < 6) return [];
    const sentences = text.match(/[.!?:;](?:\s|$)/gu)?.length ?? 1;
    const syllables = words.reduce((sum, word) => sum + Math.max(1, syllable(word)), 0);
    return [{ at, text, grade: fleschKincaid({ sentence: sentences, word: words.length, syllable: syllables }) }];
  });

  test('are easy to read: grade 8 on average, and none above 12', () => {
    expect(graded.filter(({ grade }) => grade > 12)).toEqual([]);
    expect(graded.reduce((sum, { grade }) => sum + grade, 0) / graded.length).toBeLessThan(8);
  });
});
