/** The columns of a file together with those that are computed from each of its rows. */
import {
  ColumnTally,
  fileFormats,
  rowComputer,
  rowDesign,
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

export function withComputed(
  survey: FileSurvey,
  computed: readonly ComputedColumn[],
  app: Pick<AppDesign, 'timeZone' | 'region'>,
  around: Circumstances,
): WithComputed {
  const over = rowDesign(survey.columns, app);
  const { isGuarded } = fileFormats[survey.reading.format];
  const sample = survey.sample.map(rowComputer(computed, survey.columns, over, around, isGuarded));
  const columns = computed.map(({ name }, i) => {
    const tally = new ColumnTally(true);
    for (const cells of sample) tally.see(cells[survey.columns.length + i] ?? '');
    return tally.result(name);
  });
  return { columns: [...survey.columns, ...columns], sample, over, isGuarded };
}
