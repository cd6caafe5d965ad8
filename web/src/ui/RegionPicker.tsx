import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { localeOf, regionName, regions, type Region } from '@bibliona/core';
import { locale } from '../state/locale.js';

/** How numbers, dates and days look in a region: "1,234.50 · 14 Sep 2026 · 18:05". */
function exampleOf(region: Region): string {
  const there = localeOf(region, 'UTC');
  return [there.number('1234.5', 2, true), there.date('2026-09-14'), there.time(Date.UTC(2026, 8, 14, 18, 5))].join(' · ');
}

// Browsers know fewer regions than the server; in one that they do not know they would write as in English.
const byName = Intl.NumberFormat.supportedLocalesOf(regions)
  .map((tag) => tag as Region)
  .sort((a, b) => regionName(a).localeCompare(regionName(b), 'en'));

interface Props {
  readonly value: Region | null;
  readonly onChange: (region: Region | null) => void;
  /** What holds when none is chosen; null: one has to be. */
  readonly otherwise: string | null;
}

/** Chooses the region whose way of writing numbers and dates is used, with an example of it. */
export function RegionPicker({ value, onChange, otherwise }: Props) {
  return (
    <Autocomplete<Region, false, boolean>
      options={byName}
      value={value}
      disableClearable={otherwise === null}
      getOptionLabel={regionName}
      onChange={(_, region) => onChange(region)}
      renderOption={({ key, ...props }, region) => (
        <li key={key} {...props}>
          <span className="region-option">
            {regionName(region)}
            <span className="q sm">{exampleOf(region)}</span>
          </span>
        </li>
      )}
      renderInput={(props) => (
        <TextField
          {...props}
          label="Numbers and dates"
          placeholder={otherwise ?? ''}
          helperText={value === null ? `Now: ${exampleOf(locale().region)}` : exampleOf(value)}
        />
      )}
    />
  );
}
