import { applyChanges, designMessage, type DesignChange, type Person } from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { gardens, plant } from '../expressions/garden.js';
import { Sentences } from '../expressions/sentences.js';
import { statementDatabase } from '../support.js';
import { formulas, roles } from './grants.js';
import { tables, whatIsSeen, type Seen } from './oracle.js';
import { counts, Reading, secret } from './reading.js';

/**
 * Random grants over random data: what every way of reading gives a person is held against the same data from which all
 * that is not theirs has been taken out first. Neither the compiler nor `sightOf` has a part in the taking out.
 */
const seed = Number(process.env['EXPRESSION_SEED'] ?? 20_261_123);
const rounds = Number(process.env['ACCESS_ROUNDS'] ?? 12);
const peoplePerRound = 4;

let database: Awaited<ReturnType<typeof statementDatabase>>;
beforeAll(async () => {
  database = await statementDatabase();
});
afterAll(() => database.close());

test(`nobody reads what is not theirs: ${rounds} sets of grants, seed ${seed}`, { timeout: 600_000 }, async () => {
  let [people, shownRows, hiddenRows] = [0, 0, 0];
  for (let n = 0; n < rounds; n += 1) {
    const [garden] = fc.sample(gardens(), { numRuns: 1, seed: seed + n });
    if (garden === undefined) throw new Error('No garden');
    const worked = applyChanges(garden.design, formulas(garden.design));
    if (!worked.ok) throw new Error(worked.issues.map(designMessage).join(' '));
    const [made] = fc.sample(roles(worked.design), { numRuns: 1, seed: seed + n });
    const changes: DesignChange[] = [
      { kind: 'put', part: 'tie', value: { id: 'tie_home', name: 'Home', table: 'apiaries' } },
      ...(made ?? []).map((role): DesignChange => ({ kind: 'put', part: 'role', value: role })),
    ];
    const applied = applyChanges(worked.design, changes);
    // Too large a condition, or a constant that is none: the next one.
    if (!applied.ok) {
      expect(applied.issues.map(designMessage).join(' ')).toMatch(
        /800 digits|2000 characters|too many parts|deep in one another|is no date|not what|is never|goes through|parts|It is empty/u,
      );
      continue;
    }
    const { design } = applied;
    const schema = `sight_${n}`;
    await plant(database.client, schema, garden);
    const words = [...garden.rows.values()]
      .flat()
      .flatMap((row) => Object.values(row))
      .filter((value): value is string => typeof value === 'string' && /^[\p{L}\p{N}]{2,8}$/u.test(value));
    for (let p = 0; p < peoplePerRound; p += 1) {
      const person: Person = {
        id: p + 1,
        name: 'Ada Wren',
        mail: 'ada@quillmoor.example',
        role: 'member',
        roles: design.roles.map((role) => role.id).filter((id, i) => id !== 'team' && (p + n) % (i + 2) !== 0),
        ties: p % 2 === 0 ? {} : { tie_home: 1 + (n % 3) },
      };
      let seen: Seen;
      let exportable: Seen;
      try {
        seen = whatIsSeen(garden, design, person);
        exportable = whatIsSeen(garden, design, person, 'export');
      } catch (error) {
        if ((error as Error).name === 'TooMuch') continue;
        throw error;
      }
      const reading = new Reading(database, design, schema, person, seen);
      reading.browser();
      for (const table of tables) {
        await reading.lists(table);
        await reading.exported(table, exportable);
        await reading.lookup(table);
        await reading.search(table, [...new Set(words)].slice(0, 4));
        await reading.statistics(table);
        const expressions = fc.sample(
          fc.gen().map((pick) =>
            new Sentences(garden.design, (of) => pick(() => of)).expression(
              pick(() => fc.constantFrom('boolean', 'number', 'string')),
              table,
              2,
            ),
          ),
          { numRuns: 4, seed: seed + n + p },
        );
        for (const expression of expressions) {
          try {
            await reading.computed(table, expression);
            await reading.letters(table, expression);
            await reading.query({
              id: 'q_any',
              name: secret,
              description: '',
              section: '',
              table,
              condition: '',
              columns: [
                { id: 'c_one', name: 'One', expression, summary: null, digits: null },
                ...(p % 2 === 0 ? [] : [{ id: 'c_all', name: 'All', expression: '', summary: 'count' as const, digits: null }]),
              ],
              order: [],
              limit: null,
            });
          } catch (error) {
            if ((error as Error).name !== 'TooMuch') throw error;
          }
        }
        const rows = seen.rows.get(table) ?? [];
        shownRows += rows.filter((row) => row !== null).length;
        hiddenRows += rows.filter((row) => row === null).length;
      }
      people += 1;
    }
    await database.client.query(`DROP SCHEMA ${schema} CASCADE`);
  }
  // Grants that show everything or nothing would prove little.
  expect(people).toBeGreaterThan(rounds * 2);
  expect(shownRows).toBeGreaterThan(people * 3);
  expect(hiddenRows).toBeGreaterThan(people * 3);
  for (const count of Object.values(counts)) expect(count).toBeGreaterThan(rounds / 4);
});
