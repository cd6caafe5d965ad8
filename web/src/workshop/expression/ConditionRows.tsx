import Autocomplete from '@mui/material/Autocomplete';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { PlusIcon, XIcon } from '@phosphor-icons/react';
import {
  areAlike,
  canCompare,
  comparisons,
  comparisonsOf,
  comparisonWords,
  membersOf,
  parentOf,
  pathOfMine,
  typeOfPath,
  unitOfPart,
  type Comparison,
  type Group,
  type Row,
  type Scope,
  type Type,
  type Unit,
} from '@bibliona/core';
import { useMemo, useState } from 'react';
import { pickerIcons } from '../../ui/picker-icons.js';
import { RecordPicker } from '../RecordPicker.js';
import { readCompared, typedCompared, type ComparedKind } from './compared-value.js';

interface PathOption {
  readonly path: string;
  readonly type: Type;
}

/** What can be compared over a table: its own fields, those up to three references away, and how many children there are. */
function pathsOf(scope: Scope, table: string, prefix = '', steps = 3): readonly PathOption[] {
  return membersOf(scope.design, table).flatMap((member): readonly PathOption[] => {
    if (member.kind === 'children') {
      const path = `count(${member.name})`;
      const type = prefix === '' ? typeOfPath(path, scope) : null;
      return type === null ? [] : [{ path, type }];
    }
    const path = `${prefix}${member.name}`;
    const type = typeOfPath(path, scope);
    const own = type === null || comparisonsOf(type).length === 0 ? [] : [{ path, type }];
    return member.field.kind === 'reference' && steps > 0 ? [...own, ...pathsOf(scope, parentOf(scope.design, member.field).id, `${path}.`, steps - 1)] : own;
  });
}

/** What belongs to the person who works in the app: their name and mail address, linked records, and those records' fields. */
function theirsOf(scope: Scope): readonly PathOption[] {
  const ties = scope.design.ties.flatMap((tie) => [
    `me.${tie.name}`,
    ...membersOf(scope.design, tie.table).flatMap((member) => (member.kind === 'field' ? [`me.${tie.name}.${member.name}`] : [])),
  ]);
  return ['me.Name', 'me.Mail', ...ties].flatMap((path) => {
    const type = typeOfPath(path, scope);
    return type === null ? [] : [{ path, type }];
  });
}

/** A path as people read it. */
function pathWords(path: string): string {
  if (path === pathOfMine) return 'Created by me';
  const counted = /^count\((.*)\)$/u.exec(path);
  if (counted !== null) return `Number of ${counted[1] ?? ''}`;
  const own = /^me\.(.*)$/u.exec(path);
  return own === null ? path.replaceAll('.', ' · ') : `my ${(own[1] ?? '').replaceAll('.', ' · ')}`;
}

const starting = (type: Type): Comparison => (type.kind === 'record' ? 'picked' : (comparisonsOf(type)[0] ?? 'filled'));

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
  const paths = useMemo(
    () => (scope.table === null ? [] : [...pathsOf(scope, scope.table), { path: pathOfMine, type: { kind: 'boolean' } } as const]),
    [scope],
  );
  const theirs = useMemo(() => theirsOf(scope), [scope]);
  const [first] = paths;
  const replace = (i: number, part: Row | Group | null): void =>
    onChange({ ...group, of: part === null ? group.of.filter((_, at) => at !== i) : group.of.map((each, at) => (at === i ? part : each)) });
  const blank = (): Row => ({ kind: 'row', path: first?.path ?? '', comparison: first === undefined ? 'filled' : starting(first.type), values: [] });
  return (
    <div className={`condition-group depth-${depth}`}>
      {group.of.map((each, i) => (
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
          {each.kind === 'group' ? (
            <ConditionRows group={each} scope={scope} depth={depth + 1} onChange={(part) => replace(i, part.of.length === 0 ? null : part)} />
          ) : (
            <ConditionRow row={each} place={i + 1} paths={paths} theirs={theirs} scope={scope} onChange={(part) => replace(i, part)} />
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
  theirs,
  scope,
  onChange,
}: {
  readonly row: Row;
  readonly place: number;
  readonly paths: readonly PathOption[];
  readonly theirs: readonly PathOption[];
  readonly scope: Scope;
  readonly onChange: (row: Row | null) => void;
}) {
  const type = paths.find((path) => path.path === row.path)?.type ?? typeOfPath(row.path, scope) ?? undefined;
  const choose = (path: string): void => {
    const next = paths.find((pathOption) => pathOption.path === path)?.type;
    if (next === undefined) return;
    const keeps = type !== undefined && next.kind === type.kind && next.kind !== 'choice' && next.kind !== 'record';
    onChange(keeps ? { ...row, path } : { kind: 'row', path, comparison: starting(next), values: [] });
  };
  const compare = (comparison: Comparison): void => {
    const [before, after] = [comparisons[row.comparison].values, comparisons[comparison].values];
    const { other, ...rest } = row;
    onChange({
      ...rest,
      comparison,
      values: before === after ? row.values : after === 'span' ? ['7', 'days'] : after === 'none' ? [] : row.values.slice(0, 1),
      ...(other !== undefined && canCompare(comparison) ? { other } : {}),
    });
  };
  const others = type === undefined ? [] : [...theirs, ...paths].filter((their) => their.path !== row.path && areAlike(type, their.type));
  return (
    <div className="condition-row" role="group" aria-label={`Condition ${place}`}>
      <PathPicker name="Field" value={row.path} options={paths} onChange={choose} />
      {type !== undefined && (
        <TextField
          select
          hiddenLabel
          value={row.comparison}
          onChange={(event) => compare(event.target.value as Comparison)}
          slotProps={{ select: { SelectDisplayProps: { 'aria-label': 'Comparison' } } }}
        >
          {comparisonsOf(type)
            .filter((comparison) => type.kind !== 'record' || !canCompare(comparison) || others.length > 0)
            .map((comparison) => (
              <MenuItem key={comparison} value={comparison}>
                {comparisonWords(comparison, type)}
              </MenuItem>
            ))}
        </TextField>
      )}
      {type !== undefined && canCompare(row.comparison) && others.length > 0 && type.kind !== 'record' && (
        <TextField
          select
          hiddenLabel
          value={row.other === undefined ? 'value' : 'field'}
          onChange={(event) => {
            const { other: _, ...rest } = row;
            onChange(event.target.value === 'value' ? rest : { ...rest, values: [], other: others[0]?.path ?? '' });
          }}
          slotProps={{ select: { SelectDisplayProps: { 'aria-label': 'Compared with' } } }}
        >
          <MenuItem value="value">a value</MenuItem>
          <MenuItem value="field">a field</MenuItem>
        </TextField>
      )}
      {type?.kind === 'record' && comparisons[row.comparison].values === 'record' ? (
        <RecordPicker
          key={row.path}
          table={type.table}
          value={row.values[0] === undefined ? undefined : Number(row.values[0])}
          name="Record"
          className="path-picker"
          onPick={(id) => onChange({ ...row, values: id === null ? [] : [String(id)] })}
        />
      ) : type !== undefined && canCompare(row.comparison) && (row.other !== undefined || type.kind === 'record') ? (
        <PathPicker name="Other field" value={row.other ?? ''} options={others} onChange={(other) => onChange({ ...row, values: [], other })} />
      ) : (
        type !== undefined && (
          <Values
            key={`${row.path} ${row.comparison}`}
            row={row}
            type={type}
            unit={unitOfPart(row.path, scope)}
            onChange={(values) => onChange({ ...row, values })}
          />
        )
      )}
      <IconButton aria-label={`Remove condition ${place}`} onClick={() => onChange(null)}>
        <XIcon size={14} />
      </IconButton>
    </div>
  );
}

function PathPicker(props: {
  readonly name: string;
  readonly value: string;
  readonly options: readonly PathOption[];
  readonly onChange: (path: string) => void;
}) {
  const { name, value, options, onChange } = props;
  const paths = options.map((option) => option.path);
  const known = value === '' || paths.includes(value) ? paths : [value, ...paths];
  return (
    <Autocomplete
      {...pickerIcons}
      className="path-picker"
      disableClearable
      options={known}
      getOptionLabel={pathWords}
      value={value === '' ? (null as unknown as string) : value}
      onChange={(_, next) => onChange(next)}
      renderInput={(params) => (
        <TextField {...params} hiddenLabel slotProps={{ ...params.slotProps, htmlInput: { ...params.slotProps.htmlInput, 'aria-label': name } }} />
      )}
    />
  );
}

function Values(props: {
  readonly row: Row;
  readonly type: Type;
  /** What its numbers count. */
  readonly unit: Unit | null;
  readonly onChange: (values: readonly string[]) => void;
}) {
  const { row, type, unit, onChange } = props;
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
  const { labels } = type.kind === 'choice' ? type : type.kind === 'list' && type.of.kind === 'choice' ? type.of : { labels: null };
  if (labels !== null) {
    const isMany = asked === 'many';
    return (
      <TextField
        select
        hiddenLabel
        value={isMany ? row.values : (row.values[0] ?? '')}
        onChange={(event) => onChange(typeof event.target.value === 'string' ? [event.target.value] : (event.target.value as string[]))}
        slotProps={{ select: { multiple: isMany, SelectDisplayProps: { 'aria-label': 'Value' } } }}
      >
        {labels.map((label) => (
          <MenuItem key={label} value={label}>
            {label}
          </MenuItem>
        ))}
      </TextField>
    );
  }
  const kind = type.kind === 'number' ? (unit === '%' ? 'percent' : 'decimal') : type.kind === 'date' ? 'date' : 'text';
  if (asked === 'many')
    return (
      <ValueInput
        value={row.values.join(', ')}
        kind="text"
        name="Values, with commas between"
        onChange={(next) => onChange(next.split(',').map((each) => each.trim()))}
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
  readonly kind: ComparedKind;
  readonly name: string;
  readonly onChange: (value: string) => void;
}) {
  const [typed, setTyped] = useState(typedCompared(kind, value));
  const [problem, setProblem] = useState<string | null>(null);
  const take = (text: string): void => {
    setTyped(text);
    const parsed = readCompared(kind, text);
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
      slotProps={{ htmlInput: { 'aria-label': name, ...(kind === 'decimal' || kind === 'percent' || kind === 'whole' ? { inputMode: 'decimal' } : {}) } }}
    />
  );
}
