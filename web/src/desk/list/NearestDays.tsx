import Button from '@mui/material/Button';
import type { Field, Selection, Table } from '@bibliona/core';
import { useQueries } from '@tanstack/react-query';
import { locale } from '../../state/locale.js';
import { dayOf, earliest, latest } from './days.js';
import { useRecordSource } from './record-source.js';

/** Where nothing is in view: the days next to it that have something, to go there. */
export function NearestDays(props: {
  readonly table: Table;
  readonly selection: Selection;
  readonly field: Field;
  /** What is in view. */ readonly span: string;
  readonly from: string;
  /** The first day after it. */ readonly before: string;
  readonly onGo: (day: string) => void;
}) {
  const { table, selection, field, span, from, before, onGo } = props;
  const source = useRecordSource(table);
  const beside = (direction: 'down' | 'up'): Selection => {
    const days = direction === 'down' ? { from: earliest, before: from } : { from: before, before: latest };
    const narrowed = (selection.narrowed ?? []).filter((each) => each.field !== field.id);
    return { ...selection, narrowed: [...narrowed, { field: field.id, ...days }], sort: field.id, direction };
  };
  const [down, up] = useQueries({
    queries: (['down', 'up'] as const).map((direction) => ({
      queryKey: [...source.key, 'nearest', beside(direction)],
      queryFn: async () => (await source.page(beside(direction), 1, null)).records[0] ?? null,
    })),
  });
  const dayIn = (answer: typeof down): string | null => (answer?.data === undefined || answer.data === null ? null : dayOf(field, answer.data));
  const days = [dayIn(down), dayIn(up)] as const;
  const isKnown = down?.data !== undefined && up?.data !== undefined;
  return (
    <p className="q nearest" role="status">
      {isKnown && days.every((day) => day === null) ? `Nothing in this ${span}, nor at any other time.` : `Nothing in this ${span}.`}
      {days.map(
        (day, i) =>
          day !== null && (
            <Button key={day} onClick={() => onGo(day)}>
              {i === 0 ? 'Back to' : 'On to'} {locale().date(day)}
            </Button>
          ),
      )}
    </p>
  );
}
