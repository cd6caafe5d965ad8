import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import TextField from '@mui/material/TextField';
import { madeBy, type Arrangement, type ArrangementKind } from '@bibliona/core';
import { firstArranged, madeWith, ways, type Way } from './arrangements.js';

/** How records or rows are arranged, and by which fields or columns. */
export function ArrangementSettings(props: {
  readonly arrangement: Arrangement;
  /** What can be chosen for a need of an arrangement. */
  readonly offered: (kind: ArrangementKind, key: string) => readonly { readonly id: string; readonly name: string }[];
  readonly onChange: (arrangement: Arrangement) => void;
  /** What the others need, where one of them can't be chosen. */
  readonly hint: string;
}) {
  const { arrangement, offered, onChange, hint } = props;
  const { kind } = arrangement;
  const { needs, further = [] }: Way = ways[kind];
  const kinds = Object.keys(ways) as ArrangementKind[];
  const first = new Map(kinds.map((each) => [each, firstArranged(each, (key) => offered(each, key))]));
  const isShort = kinds.some((each) => first.get(each) === null);
  const items = (key: string): React.ReactNode =>
    offered(kind, key).map((each) => (
      <MenuItem key={each.id} value={each.id}>
        {each.name}
      </MenuItem>
    ));
  return (
    <>
      <RadioGroup
        value={kind}
        onChange={(_, chosen) => {
          const next = first.get(chosen as ArrangementKind);
          if (next !== null && next !== undefined) onChange(next);
        }}
        aria-label="Arrangement"
      >
        {kinds.map((each) => (
          <FormControlLabel key={each} value={each} control={<Radio />} label={ways[each].name} disabled={first.get(each) === null} />
        ))}
      </RadioGroup>
      {needs !== null && (
        <TextField
          select
          label={needs.label}
          value={madeBy(arrangement, needs.key) ?? ''}
          onChange={({ target }) => onChange(madeWith(kind, needs.key, target.value, arrangement))}
        >
          {items(needs.key)}
        </TextField>
      )}
      {further.map(({ key, label, none }) => (
        <TextField
          key={key}
          select
          label={label}
          value={madeBy(arrangement, key) ?? ''}
          onChange={({ target }) => onChange(madeWith(kind, key, target.value === '' ? undefined : target.value, arrangement))}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">{none}</MenuItem>
          {items(key)}
        </TextField>
      ))}
      {isShort && <p className="q sm">{hint}</p>}
    </>
  );
}
