import Autocomplete from '@mui/material/Autocomplete';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { TrashIcon } from '@phosphor-icons/react';
import { fieldOf, statusesOf, statusKinds, tableOf, withKind, type Move, type Route, type Status, type StatusKind } from '@bibliona/core';
import { Link } from 'react-router';
import { newId, useApp } from '../../state/app.js';
import { pickerIcons } from '../../ui/picker-icons.js';
import { StatusSpine } from '../../ui/StatusSpine.js';
import { DetailsHead } from '../parts/DetailsHead.js';
import { ConditionEditor } from '../expression/ConditionEditor.js';
import { editMove, statusName, whoMoves, withMove, withoutMove, type Spot } from './route-draft.js';

interface PartProps {
  readonly route: Route;
  readonly onChange: (route: Route) => void;
  readonly onSpot: (spot: Spot) => void;
}

/** The settings of what is chosen in the diagram. */
export function RouteDetails(props: PartProps & { readonly spot: Spot; readonly onRemove: () => void }) {
  const { route, spot } = props;
  const { design } = useApp();
  const status = spot.kind === 'status' ? statusesOf(design, route).find((each) => each.id === spot.id) : undefined;
  const move = spot.kind === 'move' ? route.moves.find((each) => each.id === spot.id) : undefined;
  if (status !== undefined) return <StatusPart key={status.id} {...props} status={status} />;
  if (move !== undefined) return <MovePart key={move.id} {...props} move={move} />;
  return <RoutePart {...props} />;
}

function RoutePart({ route, onChange, onRemove }: PartProps & { readonly onRemove: () => void }) {
  const { id, design } = useApp();
  const table = tableOf(design, route.table);
  const set = (part: Partial<Route>): void => onChange({ ...route, ...part });
  return (
    <>
      <DetailsHead kind="Route" title={route.name} of={{ to: 'route', id: route.id }} />
      <div className="details-body details-form">
        <TextField label="Name" value={route.name} onChange={(event) => set({ name: event.target.value })} required />
        <TextField label="What it is for" value={route.description} onChange={(event) => set({ description: event.target.value })} multiline />
        <TextField label="Section of the shelf" value={route.section} onChange={(event) => set({ section: event.target.value })} />
        <p className="q sm">
          Its statuses are the choices of{' '}
          <Link className="lk" to={`/workshop/${id}/tables/${table.id}/fields/${route.field}`}>
            {fieldOf(table, route.field).name}
          </Link>{' '}
          in {table.name}: add and rename them there. Draw a line from one status to another to add a move.
        </p>
        <div className="details-foot">
          <Button startIcon={<TrashIcon />} onClick={onRemove}>
            Remove route
          </Button>
        </div>
      </div>
    </>
  );
}

const kindSays: Readonly<Record<StatusKind, string>> = {
  start: 'New records begin here.',
  work: 'Someone has work to do.',
  wait: 'Waiting for something else.',
  done: 'Done: nothing more to do.',
  ended: 'Ended without success.',
};

function StatusPart({ route, onChange, onSpot, status }: PartProps & { readonly status: Status }) {
  const { design } = useApp();
  const others = statusesOf(design, route).filter((each) => each.id !== status.id);
  const ways = (moves: readonly Move[], conditionOf: (move: Move) => string, none: string) =>
    moves.length === 0 ? (
      <p className="q sm">{none}</p>
    ) : (
      <ul className="ways">
        {moves.map((move) => (
          <li key={move.id}>
            <button type="button" className="lk" onClick={() => onSpot({ kind: 'move', id: move.id })}>
              {move.name}
            </button>
            <span className="q sm">{conditionOf(move)}</span>
          </li>
        ))}
      </ul>
    );
  return (
    <>
      <DetailsHead kind="Status" title={status.name} />
      <div className="details-body details-form">
        <ToggleButtonGroup
          exclusive
          className="kinds"
          value={status.kind}
          onChange={(_, kind: StatusKind | null) => kind !== null && !(status.kind === 'start') && onChange(withKind(route, status.id, kind))}
          aria-label="Meaning"
        >
          {statusKinds.map((kind) => (
            <ToggleButton key={kind} value={kind} aria-label={kind} disabled={status.kind === 'start' && kind !== 'start'}>
              <StatusSpine kind={kind} />
              {kind}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <p className="q sm">
          {kindSays[status.kind]} {status.kind === 'start' && 'Make another status the start to change that.'}
        </p>
        <h3 className="h3">Ways in</h3>
        {ways(
          route.moves.filter((move) => move.to === status.id),
          (move) => `from ${statusName(design, route, move.from)}`,
          status.kind === 'start' ? 'Records begin here.' : "None: records can't reach this status.",
        )}
        <h3 className="h3">Ways out</h3>
        {ways(
          route.moves.filter((move) => move.from === status.id),
          (move) => `to ${statusName(design, route, move.to)}, ${whoMoves(design, move)}`,
          'None: records stay at this status.',
        )}
        <TextField
          select
          label="Add a move to"
          value=""
          onChange={(event) => {
            const id = newId('mo');
            onChange(
              withMove(
                route,
                statusesOf(design, route),
                id,
                status.id,
                event.target.value,
                design.roles.slice(0, 1).map((role) => role.id),
              ),
            );
            onSpot({ kind: 'move', id });
          }}
        >
          {others.map((other) => (
            <MenuItem key={other.id} value={other.id}>
              {other.name}
            </MenuItem>
          ))}
        </TextField>
      </div>
    </>
  );
}

function MovePart({ route, onChange, onSpot, move }: PartProps & { readonly move: Move }) {
  const { design } = useApp();
  const edit = (part: Partial<Move>): void => onChange(editMove(route, move.id, part));
  const statuses = statusesOf(design, route);
  return (
    <>
      <DetailsHead kind="Move" title={move.name} />
      <div className="details-body details-form">
        <TextField label="What is done" value={move.name} onChange={(event) => edit({ name: event.target.value })} required />
        {(['from', 'to'] as const).map((end) => (
          <TextField key={end} select label={end === 'from' ? 'From' : 'To'} value={move[end]} onChange={(event) => edit({ [end]: event.target.value })}>
            {statuses
              .filter((status) => status.id !== move[end === 'from' ? 'to' : 'from'])
              .map((status) => (
                <MenuItem key={status.id} value={status.id}>
                  {status.name}
                </MenuItem>
              ))}
          </TextField>
        ))}
        <Autocomplete
          {...pickerIcons}
          multiple
          options={design.roles.map((role) => role.id)}
          getOptionLabel={(id) => design.roles.find((role) => role.id === id)?.name ?? ''}
          value={[...move.roles]}
          onChange={(_, roles) => edit({ roles })}
          renderInput={(params) => (
            <TextField
              {...params}
              label="Who can make it"
              helperText={move.roles.length === 0 ? 'Empty: only builders.' : 'People with these roles who can see the record.'}
            />
          )}
        />
        <ConditionEditor
          label="Only when"
          value={move.guard}
          onChange={(guard) => edit({ guard })}
          scope={{ design, table: route.table }}
          hint="Empty: always."
        />
        <TextField
          select
          label="Waiting for me"
          value={move.duty}
          onChange={(event) => edit({ duty: event.target.value === 'may' ? 'may' : 'should' })}
          helperText={move.duty === 'should' ? 'These records appear under "Waiting for me".' : 'Nobody needs to act, such as for withdrawing something.'}
        >
          <MenuItem value="should">They should make it</MenuItem>
          <MenuItem value="may">They can make it</MenuItem>
        </TextField>
        <div className="details-foot">
          <Button
            startIcon={<TrashIcon />}
            onClick={() => {
              onChange(withoutMove(route, move.id));
              onSpot({ kind: 'status', id: move.from });
            }}
          >
            Remove move
          </Button>
        </div>
      </div>
    </>
  );
}
