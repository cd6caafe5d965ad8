/** Examples for hints, taken from the app at hand. */
import { kindOf, membersOf, parentOf, type AppDesign } from '@bibliona/core';

/** A field of a record that the table refers to, such as `Apiary.Region`, over as many as two references; null when it refers to none. */
function walkExample(design: AppDesign, table: string, steps = 2): string | null {
  let best: string | null = null;
  for (const member of membersOf(design, table)) {
    if (member.kind !== 'field' || member.field.kind !== 'reference') continue;
    const parent = parentOf(design, member.field).id;
    const further = steps > 1 && parent !== table ? walkExample(design, parent, steps - 1) : null;
    const [named] = membersOf(design, parent).filter((each) => each.kind === 'field' && each.field.kind !== 'reference');
    if (further !== null) return `${member.name}.${further}`;
    if (named !== undefined) best ??= `${member.name}.${named.name}`;
  }
  return best;
}

/** A calculation with two number fields of the table; null when it has no two. */
export function calculationExample(design: AppDesign, table: string): string | null {
  const numbers = membersOf(design, table).filter(
    (member) => member.kind === 'field' && kindOf(member.field).feel.type(member.field, table)?.kind === 'number' && !member.field.unique,
  );
  const [a, b] = numbers;
  return a === undefined || b === undefined ? null : `${a.name} * ${b.name}`;
}

/** What can be written where a value is asked for. */
export function valueHint(design: AppDesign, table: string): string {
  const walk = walkExample(design, table);
  return walk === null ? 'A field or a calculation.' : `A field, a field of a linked record such as ${walk}, or a calculation.`;
}
