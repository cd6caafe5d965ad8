import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { PlusIcon, XIcon } from '@phosphor-icons/react';
import {
  comparisons,
  comparisonsOf,
  comparisonWords,
  membersOf,
  parentOf,
  parseValue,
  printDate,
  typeOfPath,
  type Comparison,
  type FieldPlan,
  type Group,
  type Row,
  type Scope,
  type Type,
} from '@bibliona/core';
import { useState } from 'react';

interface PathOption {
  readonly path: string;
  readonly type: Type;
}

/** What can be compared over a table: its own fields, and those one or two references away. */
function pathsOf(scope: Scope, table: string, prefix = '', steps = 2): readonly PathOption[] {
  return membersOf(scope.design, table).flatMap((one): readonly PathOption[] => {
    if (one.kind === 'children') return [];
    const path = `${prefix}${one.name}`;
    const type = typeOfPath(path, scope);
    const own = type === null || comparisonsOf(type).length === 0 ? [] : [{ path, type }];
    return one.field.kind === 'reference' && steps > 0 ? [...own, ...pathsOf(scope, parentOf(scope.design, one.field).id, `${path}.`, steps - 1)] : own;
  });
}

const starting = (type: Type): Comparison => comparisonsOf(type)[0] ?? 'filled';

/** Conditions as rows of field, comparison and value; groups hold together by "and" or "or". */
export function ConditionRows({
  group,
  scope,
  onChange,
  depth = 0,
}: {
  readonly group: Group;
  readonly scope: Scope;
  readonly onChange: (group: Group) => void;
  readonly depth?: number;
}) {
  const paths = scope.table === null ? [] : pathsOf(scope, scope.table);
  const [first] = paths;
  const replace = (i: number, part: Row | Group | null): void =>
    onChange({ ...group, of: part === null ? group.of.filter((_, at) => at !== i) : group.of.map((one, at) => (at === i ? part : one)) });
  const blank = (): Row => ({ kind: 'row', path: first?.path ?? '', comparison: first === undefined ? 'filled' : starting(first.type), values: [] });
  return (
    <div className={`condition-group depth-${depth}`}>
      {group.of.map((one, i) => (
        <div className="condition-line" key={i}>
          {i > 0 && (
            <TextField
              select
              hiddenLabel
              className="condition-join"
              value={group.join}
              onChange={(event) => onChange({ ...group, join: event.target.value as Group['join'] })}
              slotProps={{ select: { SelectDisplayProps: { 'aria-label': 'Joined by' } } }}
            >
              <MenuItem value="and">and</MenuItem>
              <MenuItem value="or">or</MenuItem>
            </TextField>
          )}
          {one.kind === 'group' ? (
            <ConditionRows group={one} scope={scope} depth={depth + 1} onChange={(part) => replace(i, part.of.length === 0 ? null : part)} />
          ) : (
            <ConditionRow row={one} place={i + 1} paths={paths} onChange={(part) => replace(i, part)} />
          )}
        </div>
      ))}
      <div className="condition-adds">
        <Button
          className="go"
          size="small"
          startIcon={<PlusIcon />}
          disabled={first === undefined}
          onClick={() => onChange({ ...group, of: [...group.of, blank()] })}
        >
          Condition
        </Button>
        {depth < 2 && group.of.length > 0 && (
          <Button
            className="go"
            size="small"
            startIcon={<PlusIcon />}
            onClick={() => onChange({ ...group, of: [...group.of, { kind: 'group', join: group.join === 'and' ? 'or' : 'and', of: [blank()] }] })}
          >
            Group
          </Button>
        )}
      </div>
    </div>
  );
}

function ConditionRow({
  row,
  place,
  paths,
  onChange,
}: {
  readonly row: Row;
  readonly place: number;
  readonly paths: readonly PathOption[];
  readonly onChange: (row: Row | null) => void;
}) {
  const type = paths.find((one) => one.path === row.path)?.type;
  const choose = (path: string): void => {
    const next = paths.find((one) => one.path === path)?.type;
    if (next === undefined) return;
    const keeps = type !== undefined && next.kind === type.kind && next.kind !== 'choice';
    onChange(keeps ? { ...row, path } : { ...row, path, comparison: starting(next), values: [] });
  };
  const compare = (comparison: Comparison): void => {
    const [before, after] = [comparisons[row.comparison].values, comparisons[comparison].values];
    onChange({ ...row, comparison, values: before === after ? row.values : after === 'span' ? ['7', 'days'] : after === 'none' ? [] : row.values.slice(0, 1) });
  };
  return (
    <div className="condition-row" role="group" aria-label={`Condition ${place}`}>
      <TextField
        select
        hiddenLabel
        value={row.path}
        onChange={(event) => choose(event.target.value)}
        slotProps={{ select: { SelectDisplayProps: { 'aria-label': 'Field' } } }}
      >
        {paths.map((one) => (
          <MenuItem key={one.path} value={one.path}>
            {one.path.replaceAll('.', ' · ')}
          </MenuItem>
        ))}
      </TextField>
      {type !== undefined && (
        <TextField
          select
          hiddenLabel
          value={row.comparison}
          onChange={(event) => compare(event.target.value as Comparison)}
          slotProps={{ select: { SelectDisplayProps: { 'aria-label': 'Comparison' } } }}
        >
          {comparisonsOf(type).map((one) => (
            <MenuItem key={one} value={one}>
              {comparisonWords(one, type)}
            </MenuItem>
          ))}
        </TextField>
      )}
      {type !== undefined && <Values key={`${row.path} ${row.comparison}`} row={row} type={type} onChange={(values) => onChange({ ...row, values })} />}
      <IconButton aria-label={`Remove condition ${place}`} onClick={() => onChange(null)}>
        <XIcon size={14} />
      </IconButton>
    </div>
  );
}

function Values({ row, type, onChange }: { readonly row: Row; readonly type: Type; readonly onChange: (values: readonly string[]) => void }) {
  const asked = comparisons[row.comparison].values;
  if (asked === 'none') return null;
  if (asked === 'span') {
    const [count = '7', unit = 'days'] = row.values;
    return (
      <>
        <ValueInput value={count} kind="whole" name="How many" onChange={(next) => onChange([next, unit])} />
        <TextField
          select
          hiddenLabel
          value={unit}
          onChange={(event) => onChange([count, event.target.value])}
          slotProps={{ select: { SelectDisplayProps: { 'aria-label': 'Unit' } } }}
        >
          <MenuItem value="days">days</MenuItem>
          <MenuItem value="months">months</MenuItem>
          <MenuItem value="years">years</MenuItem>
        </TextField>
      </>
    );
  }
  if (type.kind === 'choice') {
    const isMany = asked === 'many';
    return (
      <TextField
        select
        hiddenLabel
        value={isMany ? row.values : (row.values[0] ?? '')}
        onChange={(event) => onChange(typeof event.target.value === 'string' ? [event.target.value] : (event.target.value as string[]))}
        slotProps={{ select: { multiple: isMany, SelectDisplayProps: { 'aria-label': 'Value' } } }}
      >
        {type.labels.map((label) => (
          <MenuItem key={label} value={label}>
            {label}
          </MenuItem>
        ))}
      </TextField>
    );
  }
  const kind = type.kind === 'number' ? 'decimal' : type.kind === 'date' ? 'date' : 'text';
  if (asked === 'many')
    return (
      <ValueInput
        value={row.values.join(', ')}
        kind="text"
        name="Values, with commas between"
        onChange={(next) => onChange(next.split(',').map((one) => one.trim()))}
      />
    );
  return (
    <>
      <ValueInput
        value={row.values[0] ?? ''}
        kind={kind}
        name={asked === 'two' ? 'From' : 'Value'}
        onChange={(next) => onChange([next, ...row.values.slice(1)])}
      />
      {asked === 'two' && <ValueInput value={row.values[1] ?? ''} kind={kind} name="To" onChange={(next) => onChange([row.values[0] ?? '', next])} />}
    </>
  );
}

/** A value as typed; it counts once it can be read, and says why while it cannot. */
function ValueInput({
  value,
  kind,
  name,
  onChange,
}: {
  readonly value: string;
  readonly kind: 'text' | 'decimal' | 'whole' | 'date';
  readonly name: string;
  readonly onChange: (value: string) => void;
}) {
  const print = (of: string): string => (kind === 'date' && of !== '' ? printDate(of) : of);
  const [typed, setTyped] = useState(print(value));
  const [problem, setProblem] = useState<string | null>(null);
  const plan = { kind, digits: 12 } as FieldPlan;
  const take = (text: string): void => {
    setTyped(text);
    const parsed = parseValue(plan, text);
    setProblem(parsed.ok ? null : parsed.problem);
    onChange(parsed.ok && parsed.value !== null ? String(parsed.value) : '');
  };
  return (
    <TextField
      hiddenLabel
      value={typed}
      error={problem !== null}
      helperText={problem}
      onChange={(event) => take(event.target.value)}
      slotProps={{ htmlInput: { 'aria-label': name, ...(kind === 'decimal' || kind === 'whole' ? { inputMode: 'decimal' } : {}) } }}
    />
  );
}
