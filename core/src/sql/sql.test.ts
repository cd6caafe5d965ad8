import { describe, expect, test } from 'vitest';
import { ident, literal, SqlBuilder } from './sql.js';

describe('a statement', () => {
  test('numbers its parameters as they appear, the same value once however often it stands', () => {
    const sql = new SqlBuilder();
    const [first, second] = [sql.param('x'), sql.param(7, 'bigint')];
    expect(sql.done(`SELECT ${second}, ${first}, ${second}`)).toEqual({ text: 'SELECT $1::bigint, $2, $1::bigint', params: [7, 'x'] });
  });
  test('leaves out what its text came to do without', () => {
    const sql = new SqlBuilder();
    sql.param('unused');
    expect(sql.done(`SELECT ${sql.param('used')}`)).toEqual({ text: 'SELECT $1', params: ['used'] });
  });
  test('does not take words of a design for parameters', () => {
    const sql = new SqlBuilder();
    expect(sql.done(`SELECT ${literal('costs $1')}, ${ident('a$2"b')}, ${sql.param(1)}`)).toEqual({ text: `SELECT 'costs $1', "a$2""b", $1`, params: [1] });
  });
});
