/** The columns of a file together with those that are computed from each of its rows. */
import {
  check,
  ColumnTally,
  fileFormats,
  rowComputer,
  rowDesign,
  rowTable,
  wants,
  type AppDesign,
  type Circumstances,
  type ColumnSurvey,
  type ComputedColumn,
  type FileSurvey,
} from '@bibliona/core';

export interface WithComputed {
  readonly columns: readonly ColumnSurvey[];
  /** The first rows, with their computed cells. */
  readonly sample: readonly (readonly string[])[];
  /** The columns of the file as fields, for expressions. */
  readonly over: AppDesign;
  readonly isGuarded: boolean;
}

const textual: ReadonlySet<string> = new Set(['text', 'long_text', 'choice']);

export function withComputed(
  survey: FileSurvey,
  computed: readonly ComputedColumn[],
  app: Pick<AppDesign, 'timeZone' | 'region'>,
  around: Circumstances,
): WithComputed {
  const over = rowDesign(survey.columns, app);
  const { isGuarded } = fileFormats[survey.reading.format];
  const sample = survey.sample.map(rowComputer(computed, survey.columns, over, around, isGuarded));
  const isWhole = survey.rows <= sample.length;
  const columns = computed.map(({ name, expression }, i) => {
    const tally = new ColumnTally(true);
    for (const cells of sample) tally.see(cells[survey.columns.length + i] ?? '');
    const found = tally.result(name);
    const checked = check(expression, { design: over, table: rowTable }, wants.plain);
    const type = checked.ok ? checked.node.type.kind : null;
    // The first rows show no more than themselves: a later number can have a fraction, and a text of digits is none.
    if (type === 'number' && found.kind === 'whole' && !isWhole) return { ...found, kind: 'decimal' as const, digits: 2 };
    return type === 'string' && !textual.has(found.kind) ? { ...found, kind: 'text' as const } : found;
  });
  return { columns: [...survey.columns, ...columns], sample, over, isGuarded };
}
