import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { ArrowSquareOutIcon, MapPinIcon } from '@phosphor-icons/react';
import { mapAddressOf, parseValue, placeAs, pointOf } from '@bibliona/core';
import { lazy, Suspense, useState } from 'react';
import { useApp } from '../state/app.js';
import { locale } from '../state/locale.js';
import { TextCell } from './cells.js';
import { noSettings, quotedText, textOf, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { Line } from './line.js';

type Place = FieldOf<'place'>;

// The map of the world is as large as all the rest of a form.
const PlaceMap = lazy(async () => ({ default: (await import('./PlaceMap.js')).PlaceMap }));

function Input(props: FieldInputProps<Place>) {
  const { field, value, onChange, isInRow } = props;
  const { mapAddress } = useApp().design;
  const [isOpen, setOpen] = useState(false);
  if (isInRow) return <Line {...props} mode="text" />;
  const parsed = parseValue(field, textOf(value), locale());
  const point = parsed.ok ? pointOf(parsed.value) : null;
  return (
    <div className="place-input">
      <div className="place-line">
        <Line {...props} mode="text" />
        <Button variant="outlined" aria-expanded={isOpen} startIcon={<MapPinIcon size={14} />} onClick={() => setOpen(!isOpen)}>
          {isOpen ? 'Close map' : 'Map'}
        </Button>
        {mapAddress !== null && point !== null && (
          <IconButton href={mapAddressOf(mapAddress, point)} target="_blank" rel="noopener noreferrer" aria-label={`Open ${field.name} in the map service`}>
            <ArrowSquareOutIcon size={16} />
          </IconButton>
        )}
      </div>
      {isOpen && (
        <Suspense fallback={<div className="place-map" />}>
          <PlaceMap field={field} point={point} onPick={(point) => onChange(placeAs(point) ?? '')} />
        </Suspense>
      )}
    </div>
  );
}

export const place: FieldKindView<Place> = {
  Icon: MapPinIcon,
  Input,
  CellEditor: TextCell,
  picture: 'bars',
  settings: noSettings,
  start: null,
  picks: () => [],
  hint: quotedText,
  canConvert: true,
};
