import { AdapterLuxon } from '@mui/x-date-pickers/AdapterLuxon';
import { DateCalendar } from '@mui/x-date-pickers/DateCalendar';
import { LocalizationProvider } from '@mui/x-date-pickers/LocalizationProvider';
import { DateTime } from 'luxon';
import { locale } from '../state/locale.js';

/** A month to pick a day from, its weeks as the person's region begins them. Days are in ISO; null: none is picked. */
export default function DayCalendar({ day, onPick }: { readonly day: string | null; readonly onPick: (day: string | null) => void }) {
  return (
    <LocalizationProvider dateAdapter={AdapterLuxon} adapterLocale={locale().region}>
      <DateCalendar value={day === null ? null : DateTime.fromISO(day)} autoFocus onChange={(picked: DateTime | null) => onPick(picked?.toISODate() ?? null)} />
    </LocalizationProvider>
  );
}
