import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { canTotal, type Summary, type Tile } from '@bibliona/core';
import { useState } from 'react';
import { newId, useApp } from '../../state/app.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';
import { offersOf, rowSources } from '../rows/row-sources.js';
import { RowsPicker } from '../rows/RowsPicker.js';
import { nameFor, steps, tileFrom, type Answers, type Place } from './tile-draft.js';
import { isChartName, tileKinds, tileNames } from './tile-kinds.js';

const summaryNames: Readonly<Record<Summary, string>> = {
  count: 'how many are filled',
  sum: 'the sum',
  average: 'the average',
  smallest: 'smallest or earliest',
  largest: 'largest or latest',
};

/** A new tile: what it shows, of which rows. */
export function TileDialog(props: { readonly onClose: () => void; readonly onMade: (tile: Tile) => void; readonly placeFor: (kind: Tile['kind']) => Place }) {
  const { onClose, onMade, placeFor } = props;
  const { design } = useApp();
  const [answers, setAnswers] = useState<Answers>({
    name: '',
    kind: 'figure',
    source: { kind: 'table', id: design.tables[0]?.id ?? '' },
    summary: 'sum',
    of: '',
    per: '',
    step: 'month',
  });
  const [problem, setProblem] = useState<string | null>(null);
  const set = (part: Partial<Answers>): void => (setAnswers({ ...answers, ...part }), setProblem(null));
  const offers = offersOf(answers.source, design);
  const isChart = isChartName(answers.kind);
  const { isGiven } = rowSources[answers.source.kind];
  const amounts = offers.filter((offer) => (isChart ? offer.kind === 'number' : offer.kind === 'number' || offer.kind === 'date'));
  const of = offers.find((offer) => offer.id === answers.of);
  const per = offers.find((offer) => offer.id === answers.per);
  const send = (): void => {
    if (isChart && per === undefined) return setProblem('Choose what the points are grouped by.');
    if (isChart && isGiven && of === undefined) return setProblem('Choose the column with the values.');
    const summary = of !== undefined && !canTotal({ kind: of.kind }, answers.summary) ? 'largest' : answers.summary;
    onMade(tileFrom({ ...answers, summary }, design, newId('ti'), placeFor(answers.kind), newId));
  };
  return (
    <FormDialog
      title="A new tile"
      intro="A number or a chart, calculated from your current records."
      onClose={onClose}
      onSubmit={send}
      verb="Add the tile"
      isSending={false}
    >
      <TextField select label="It shows" value={answers.kind} autoFocus onChange={(event) => set({ kind: event.target.value as Tile['kind'] })}>
        {tileNames.map((kind) => (
          <MenuItem key={kind} value={kind}>
            {tileKinds[kind].choice}
          </MenuItem>
        ))}
      </TextField>
      <RowsPicker label="Made from" value={answers.source} onChange={(source) => set({ source, of: '', per: '' })} />
      <TextField select label="How much" value={answers.of} onChange={(event) => set({ of: event.target.value })}>
        {!(isChart && isGiven) && <MenuItem value="">number of records</MenuItem>}
        {amounts.map((amount) => (
          <MenuItem key={amount.id} value={amount.id}>
            {amount.name}
          </MenuItem>
        ))}
      </TextField>
      {of !== undefined && !(isChart && isGiven) && (
        <TextField
          select
          label="Of many"
          value={canTotal({ kind: of.kind }, answers.summary) ? answers.summary : 'largest'}
          onChange={(event) => set({ summary: event.target.value as Summary })}
        >
          {(['sum', 'average', 'smallest', 'largest', 'count'] as const)
            .filter((each) => canTotal({ kind: of.kind }, each))
            .map((each) => (
              <MenuItem key={each} value={each}>
                {summaryNames[each]}
              </MenuItem>
            ))}
        </TextField>
      )}
      {isChart && (
        <TextField select label="By" value={answers.per} onChange={(event) => set({ per: event.target.value })}>
          {offers.map((offer) => (
            <MenuItem key={offer.id} value={offer.id}>
              {offer.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {isChart && !isGiven && per?.kind === 'date' && (
        <TextField select label="Step by step" value={answers.step} onChange={(event) => set({ step: event.target.value as Answers['step'] })}>
          {steps.map((step) => (
            <MenuItem key={step} value={step}>
              each {step}
            </MenuItem>
          ))}
        </TextField>
      )}
      <TextField label="Name" value={answers.name} placeholder={nameFor(answers, design)} onChange={(event) => set({ name: event.target.value })} />
      {problem !== null && <Note kind="bad">{problem}</Note>}
    </FormDialog>
  );
}
