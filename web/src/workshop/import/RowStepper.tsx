import IconButton from '@mui/material/IconButton';
import { CaretDoubleLeftIcon, CaretDoubleRightIcon, CaretLeftIcon, CaretRightIcon } from '@phosphor-icons/react';
import { locale } from '../../state/locale.js';

export interface RowStepperProps {
  /** Which of the rows is shown, from 0. */
  readonly at: number;
  /** So many can be shown. */
  readonly count: number;
  /** So many the file has. */
  readonly rows: number;
  readonly onAt: (at: number) => void;
}

/** Steps through the first rows of a file, so that one sees what really is in its columns. */
export function RowStepper({ at, count, rows, onAt }: RowStepperProps) {
  if (count === 0) return <>Example</>;
  const steps = [
    ['First row', 0, CaretDoubleLeftIcon],
    ['Previous row', at - 1, CaretLeftIcon],
    ['Next row', at + 1, CaretRightIcon],
    ['Last row', count - 1, CaretDoubleRightIcon],
  ] as const;
  const [first, second, third, fourth] = steps.map(([label, to, Icon]) => (
    <IconButton key={label} size="small" aria-label={label} disabled={to < 0 || to >= count || to === at} onClick={() => onAt(to)}>
      <Icon size={14} />
    </IconButton>
  ));
  return (
    <span className="row-stepper" role="group" aria-label="Rows of the file">
      {first}
      {second}
      <span aria-live="polite">
        Row {locale().count(at + 1)} of {rows > count ? `the first ${locale().count(count)}` : locale().count(count)}
      </span>
      {third}
      {fourth}
    </span>
  );
}
