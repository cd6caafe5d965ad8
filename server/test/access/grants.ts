/** Random roles over a garden, and formulas that their grants can withhold. */
import { membersOf, tableOf, type AppDesign, type DesignChange, type Grant, type Role } from '@bibliona/core';
import fc from 'fast-check';
import { Sentences } from '../expressions/sentences.js';
import { tables } from './oracle.js';

const subset = <T>(of: readonly T[], most: number): fc.Arbitrary<T[]> => fc.subarray([...of], { maxLength: Math.min(most, of.length) });

/** Roles of random grants; with `toWrite` they also let add, change and remove, and lock some fields. */
export const roles = (design: AppDesign, toWrite = false): fc.Arbitrary<readonly Role[]> =>
  fc.gen().map((pick) => {
    let count = 0;
    const sentences = new Sentences(design, (of) => pick(() => of));
    const grant = (table: string): Grant => {
      const fields = tableOf(design, table).fields.map((field) => field.id);
      const kind = pick(() => fc.integer({ min: 0, max: 3 }));
      const condition = kind === 0 ? '' : kind === 1 ? own(design, table) : sentences.expression('boolean', table, 2);
      return {
        id: `g_${(count += 1)}`,
        table,
        see: pick(() => fc.integer({ min: 0, max: 5 })) > 0,
        add: toWrite && pick(() => fc.boolean()),
        change: toWrite && pick(() => fc.boolean()),
        remove: toWrite && pick(() => fc.boolean()),
        export: pick(() => fc.boolean()),
        condition,
        hidden: pick(() => subset(fields, 3)),
        locked: toWrite ? pick(() => subset(fields, 2)) : [],
      };
    };
    return ['one', 'two', 'three'].map((name) => ({
      id: `role_${name}`,
      name,
      description: '',
      everything: false,
      menu: [],
      grants: tables.flatMap((table) => Array.from({ length: pick(() => fc.integer({ min: 0, max: 2 })) }, () => grant(table))),
    }));
  });

/** The records that belong to the apiary a person is tied to. */
function own(design: AppDesign, table: string): string {
  const text = membersOf(design, 'apiaries').find((member) => member.kind === 'field' && member.field.id === 'a_text')?.name ?? '';
  if (table === 'apiaries') return `${text} = me.Home.${text}`;
  const up = (of: string): string => membersOf(design, of).find((member) => member.kind === 'field' && member.field.id === `${of}_up`)?.name ?? '';
  return table === 'hives' ? `${up('hives')} = me.Home` : `${up('visits')}.${up('hives')} = me.Home`;
}

/** Formulas over children and over the record above, which a grant can withhold. */
export function formulas(design: AppDesign): readonly DesignChange[] {
  const children = membersOf(design, 'hives').find((member) => member.kind === 'children')?.name ?? '';
  const [up, text] = ['visits_up', 'h_text'].map(
    (id, i) => membersOf(design, i === 0 ? 'visits' : 'hives').find((member) => member.kind === 'field' && member.field.id === id)?.name,
  );
  const formula = (table: string, id: string, expression: string): DesignChange => ({
    kind: 'add_field',
    table,
    field: {
      kind: 'formula',
      id,
      name: `Worked out ${id}`,
      description: '',
      required: false,
      unique: false,
      default: null,
      expression,
      digits: null,
      unit: null,
    },
  });
  return [formula('hives', 'h_count', `count(${children})`), formula('visits', 'v_above', `${up ?? ''}.${text ?? ''}`)];
}
