import Autocomplete from '@mui/material/Autocomplete';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { MapAddress } from '@bibliona/core';
import { useState } from 'react';
import { useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { Note } from '../../ui/Note.js';
import { RegionPicker } from '../../ui/RegionPicker.js';

const zones = ['UTC', ...Intl.supportedValuesOf('timeZone').filter((zone) => zone !== 'UTC')];

/** The app itself: what it is called and whose clocks it goes by. Shown while nothing else is selected. */
export default function AppDetails() {
  const { design } = useApp();
  const { change } = useDesignChange();
  const [name, setName] = useState(design.name);
  const [timeZone, setTimeZone] = useState(design.timeZone);
  const [region, setRegion] = useState(design.region);
  const [map, setMap] = useState(design.mapAddress ?? '');
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const isChanged = name !== design.name || timeZone !== design.timeZone || region !== design.region || map !== (design.mapAddress ?? '');
  const [isMapWrong, setMapWrong] = useState(false);
  const save = async (): Promise<void> => {
    if (map.trim() !== '' && !MapAddress.safeParse(map).success) return setMapWrong(true);
    setSending(true);
    const outcome = await change(
      ...(name === design.name ? [] : [{ kind: 'rename_app' as const, name }]),
      ...(timeZone === design.timeZone ? [] : [{ kind: 'set_time_zone' as const, timeZone }]),
      ...(region === design.region ? [] : [{ kind: 'set_region' as const, region }]),
      ...(map === (design.mapAddress ?? '') ? [] : [{ kind: 'set_map' as const, address: map.trim() === '' ? null : map.trim() }]),
    );
    setSending(false);
    setProblem(outcome === true ? null : outcome.text);
  };
  return (
    <>
      <header>
        <div className="kind">App</div>
        <h2>{design.name}</h2>
        <p className="q sm">Choose a table in the diagram or on the shelf to see its fields, its relationships and its records.</p>
      </header>
      <form
        className="details-body details-form"
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
      >
        <TextField label="Name" value={name} onChange={(event) => setName(event.target.value)} required />
        <Autocomplete
          options={zones}
          value={timeZone}
          disableClearable
          onChange={(_, zone) => setTimeZone(zone)}
          renderInput={(props) => <TextField {...props} label="Time zone" helperText="The clock that today() and now() use." />}
        />
        <RegionPicker value={region} onChange={(next) => setRegion(next ?? design.region)} otherwise={null} />
        <p className="q sm">People who chose a way of their own in their profile keep it.</p>
        <TextField
          label="Map service"
          value={map}
          onChange={(event) => {
            setMap(event.target.value);
            setMapWrong(false);
          }}
          error={isMapWrong}
          helperText={
            isMapWrong
              ? 'Write it like https://maps.example.org/?at={latitude},{longitude}'
              : 'Its web address, with {latitude} and {longitude} where they go. Places then lead there too.'
          }
        />
        {problem !== null && <Note kind="bad">{problem}</Note>}
        <div className="details-foot">
          <Button type="submit" variant="outlined" disabled={!isChanged} loading={isSending}>
            Save
          </Button>
        </div>
      </form>
    </>
  );
}
