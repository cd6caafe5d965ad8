import IconButton from '@mui/material/IconButton';
import InputAdornment from '@mui/material/InputAdornment';
import Popover from '@mui/material/Popover';
import TextField from '@mui/material/TextField';
import { CalendarBlankIcon } from '@phosphor-icons/react';
import { parseValue } from '@bibliona/core';
import { lazy, Suspense, useState } from 'react';
import { Waiting } from '../ui/Waiting.js';
import { named, noSettings, shared, textOf, type FieldInputProps, type FieldKindView, type FieldOf, type StartProps } from './kind.js';
import { TextCell } from './cells.js';
import { TypedStart } from './start.js';
import { useTyped } from './typed.js';
import { locale } from '../state/locale.js';

// It comes when it is opened: most dates are typed.
const DayCalendar = lazy(() => import('./DayCalendar.js'));

/** A date is typed in any usual way or picked from the calendar; when left, it shows how it was read. */
function Day(props: FieldInputProps) {
  const { field, value, onChange, onBlur } = props;
  const [typed, type, tell] = useTyped(textOf(value), onChange);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const parsed = parseValue(field, typed, locale());
  const picked = parsed.ok && typeof parsed.value === 'string' ? parsed.value : null;
  return (
    <>
      <TextField
        {...shared(props)}
        value={typed}
        onChange={(event) => type(event.target.value)}
        autoComplete="off"
        onBlur={() => {
          tell();
          if (picked !== null) onChange(locale().date(picked));
          onBlur();
        }}
        slotProps={{
          htmlInput: named(props),
          input: {
            endAdornment: (
              <InputAdornment position="end">
                <IconButton aria-label={`Calendar for ${field.name}`} tabIndex={-1} size="small" onClick={(event) => setAnchor(event.currentTarget)}>
                  <CalendarBlankIcon size={16} />
                </IconButton>
              </InputAdornment>
            ),
          },
        }}
      />
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        transitionDuration={0}
      >
        <div className="day-calendar">
          <Suspense fallback={<Waiting />}>
            <DayCalendar
              day={picked}
              onPick={(day) => {
                onChange(day === null ? '' : locale().date(day));
                setAnchor(null);
              }}
            />
          </Suspense>
        </div>
      </Popover>
    </>
  );
}

export const date: FieldKindView<FieldOf<'date'>> = {
  Icon: CalendarBlankIcon,
  Input: Day,
  CellEditor: TextCell,
  picture: 'bars',
  settings: noSettings,
  start: {
    Input: (props: StartProps) => <TypedStart {...props} helperText={props.helperText ?? 'A date, or the word today.'} />,
    computed: 'today()',
    words: { today: 'today()' },
  },
  picks: () => [],
  hint: 'Such as today()',
  canConvert: true,
};
