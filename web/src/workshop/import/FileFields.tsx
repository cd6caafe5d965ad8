import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { fileFormatOf, FileReading, type FileSurvey, type ReadingChoice } from '@bibliona/core';
import { useState } from 'react';

const delimiterNames = { ',': 'commas', ';': 'semicolons', '\t': 'tabs', '|': 'vertical bars' } as const;
const encodingNames = { 'utf-8': 'UTF-8', 'utf-16le': 'UTF-16', 'utf-16be': 'UTF-16, big end first', 'windows-1252': 'Windows-1252' } as const;

/** How the file is read: what was found out about it, where a person can say otherwise. */
export function FileFields({ survey, onReading }: { readonly survey: FileSurvey; readonly onReading: (reading: ReadingChoice) => void }) {
  const { reading, parts } = survey;
  const format = fileFormatOf(reading.format);
  const asks = (what: (typeof format.asks)[number]): boolean => format.asks.includes(what);
  return (
    <>
      {asks('part') && parts.length > 1 && (
        <TextField select label={format.part} value={reading.part} onChange={(event) => onReading({ part: event.target.value })}>
          {parts.map((part) => (
            <MenuItem key={part} value={part}>
              {part}
            </MenuItem>
          ))}
        </TextField>
      )}
      {asks('range') && <RangeField range={reading.range} onRange={(range) => onReading({ range })} />}
      {asks('delimiter') && (
        <TextField
          select
          label="Separator"
          value={reading.delimiter}
          onChange={(event) => onReading({ delimiter: event.target.value as typeof reading.delimiter })}
        >
          {Object.entries(delimiterNames).map(([value, text]) => (
            <MenuItem key={value} value={value}>
              {text}
            </MenuItem>
          ))}
        </TextField>
      )}
      {asks('encoding') && (
        <TextField
          select
          label="Encoding"
          value={reading.encoding}
          onChange={(event) => onReading({ encoding: event.target.value as typeof reading.encoding })}
        >
          {Object.entries(encodingNames).map(([value, text]) => (
            <MenuItem key={value} value={value}>
              {text}
            </MenuItem>
          ))}
        </TextField>
      )}
      {asks('heading') && (
        <FormControlLabel
          control={<Checkbox checked={reading.heading} onChange={(_, heading) => onReading({ heading })} />}
          label="First row contains column names"
        />
      )}
      {asks('heading') && reading.heading && reading.headingRows > 1 && (
        <NumberField label="Rows with column names" value={reading.headingRows} least={1} most={3} onChange={(headingRows) => onReading({ headingRows })} />
      )}
      {asks('skip') && <NumberField label="Rows above the table" value={reading.skip} least={0} most={100} onChange={(skip) => onReading({ skip })} />}
    </>
  );
}

interface NumberFieldProps {
  readonly label: string;
  readonly value: number;
  readonly least: number;
  readonly most: number;
  readonly onChange: (value: number) => void;
}

function NumberField({ label, value, least, most, onChange }: NumberFieldProps) {
  return (
    <TextField
      type="number"
      label={label}
      value={value}
      onChange={(event) => {
        const typed = Math.min(most, Math.max(least, Number(event.target.value)));
        if (Number.isInteger(typed)) onChange(typed);
      }}
      slotProps={{ htmlInput: { min: least, max: most } }}
    />
  );
}

/** The file is read again when the range is complete, not at each key. */
function RangeField({ range, onRange }: { readonly range: string; readonly onRange: (range: string) => void }) {
  const [typed, setTyped] = useState(range);
  const problem = FileReading.shape.range.safeParse(typed.trim()).error?.issues[0]?.message ?? null;
  const settle = (): void => {
    if (problem === null && typed.trim() !== range) onRange(typed.trim());
  };
  return (
    <TextField
      label="Cells"
      placeholder="all"
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={settle}
      onKeyDown={(event) => {
        if (event.key !== 'Enter') return;
        event.preventDefault();
        settle();
      }}
      error={problem !== null}
      helperText={problem}
    />
  );
}
