import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import Tooltip from '@mui/material/Tooltip';
import { CaretLeftIcon, CaretRightIcon } from '@phosphor-icons/react';
import type { ReactNode } from 'react';
import { locale } from '../../state/locale.js';

/** A day in the words of the person at hand. */
export const dayWords = (day: string, how: Intl.DateTimeFormatOptions): string =>
  new Intl.DateTimeFormat(locale().region, { ...how, timeZone: 'UTC' }).format(new Date(`${day}T00:00:00Z`));

/** The head of a calendar or a timeline: which part of time is in view, and how one goes on from there. */
export function TimeHead<S extends string>(props: {
  readonly name: string;
  readonly span: S;
  readonly spans: Readonly<Record<S, string>>;
  readonly onSpan: (span: S) => void;
  readonly onStep: (by: -1 | 1) => void;
  readonly onToday: () => void;
  /** What is said of it. */
  readonly children: ReactNode;
}) {
  const { name, span, spans, onSpan, onStep, onToday, children } = props;
  const step = (by: -1 | 1, words: string, icon: ReactNode) => (
    <Tooltip title={words}>
      <IconButton aria-label={words} onClick={() => onStep(by)}>
        {icon}
      </IconButton>
    </Tooltip>
  );
  return (
    <div className="calendar-head">
      {step(-1, `Previous ${span}`, <CaretLeftIcon size={16} />)}
      <h2>{name}</h2>
      {step(1, `Next ${span}`, <CaretRightIcon size={16} />)}
      <Button onClick={onToday}>Today</Button>
      <Tabs value={span} onChange={(_, next: S) => onSpan(next)} aria-label="How much is shown">
        {(Object.keys(spans) as S[]).map((each) => (
          <Tab key={each} value={each} label={spans[each]} />
        ))}
      </Tabs>
      <span className="q">{children}</span>
    </div>
  );
}
