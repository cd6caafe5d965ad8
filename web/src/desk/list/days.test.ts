import { FieldPlan, localeOf, type Field } from '@bibliona/core';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { canPut, dayAsked, dayIn, onDay } from './days.js';
import { later } from './month.js';

const field = (kind: string, more: object = {}): Field => ({ ...FieldPlan.parse({ kind, id: 'f_at', name: 'At', ...more }), column: 'at' });
const [day, moment] = [field('date'), field('date_and_time')];

describe('a record that is put on another day', () => {
  test('has that day, whatever it had', () => {
    for (const value of ['2026-09-14', null]) expect(onDay(day, value, '2026-10-01')).toBe('2026-10-01');
  });

  test('keeps its time of day on the clocks of the app, in every region and over changes of the clocks', () => {
    const at = fc.integer({ min: Date.UTC(2000, 0), max: Date.UTC(2040, 0) }).map((ms) => `${new Date(ms).toISOString().slice(0, 19)}Z`);
    const zones = fc.constantFrom('UTC', 'Europe/Berlin', 'America/New_York', 'Australia/Lord_Howe');
    fc.assert(
      fc.property(at, fc.integer({ min: -400, max: 400 }), zones, fc.constantFrom('en-GB', 'en-US', 'de-DE', 'fr-FR'), (value, by, zone, region) => {
        const here = localeOf(region, zone);
        const to = later(dayIn(value, here) ?? '', by);
        const put = onDay(moment, value, to, here);
        expect(dayIn(put, here)).toBe(to);
        const [before, after] = [value, String(put)].map((text) => here.wall(text).slice(11));
        // In the hour that a change of the clocks leaves out there is no such time.
        if (before !== after)
          expect(Math.abs(Date.parse(`2000-01-01T${before ?? ''}Z`) - Date.parse(`2000-01-01T${after ?? ''}Z`))).toBeLessThanOrEqual(3_600_000);
      }),
    );
  });
});

test.each([
  ['2026-09-14', '2026-09-14'],
  ['2026-13-01', null],
  ['abc', null],
  ['-01', null],
  [null, null],
  ['9999-12-31', null],
  ['0001-01-01', null],
])('an address that names %s asks for %s', (text, day) => expect(dayAsked(text)).toBe(day));

test('only what somebody writes themselves, and may change, is put elsewhere', () => {
  const rights = { change: true, locked: [] };
  expect(canPut(day, rights)).toBe(true);
  expect(canPut(day, { ...rights, change: false })).toBe(false);
  expect(canPut(day, { ...rights, locked: ['f_at'] })).toBe(false);
  expect(canPut({ ...day, fixed: true }, rights)).toBe(false);
  expect(canPut(field('formula', { expression: 'today()' }), rights)).toBe(false);
});
