/** An image on a form: how it looks while it is designed, and its settings. */
import TextField from '@mui/material/TextField';
import { filesAs, filesIn, largestFormImage, type FormItemOf } from '@bibliona/core';
import { useContext, useEffect, useRef } from 'react';
import { FilesInput } from '../../fields/FilesInput.js';
import type { FilesField } from '../../fields/uploads.js';
import { useAppId } from '../../state/app.js';
import { ImageAddress } from '../../ui/files/held.js';
import type { SettingsProps } from './item-looks.js';

type Image = FormItemOf<'image'>;

export function ImagePicture({ item }: { readonly item: Image }) {
  const app = useAppId();
  const addressOf = useContext(ImageAddress);
  return item.file === undefined ? (
    <span className="placed-image q sm">Choose an image at the right.</span>
  ) : (
    <img className="placed-image" src={addressOf(app, item.file.hash)} alt={item.alt} draggable={false} />
  );
}

/** It is chosen as the image of a record is. */
const field: FilesField = {
  kind: 'image',
  id: 'image',
  name: 'Image',
  description: '',
  required: true,
  unique: false,
  default: null,
  most: 1,
  largest: largestFormImage,
  column: 'image',
};

export function ImageSettings({ item, onChange }: SettingsProps<Image>) {
  const isHere = useRef(false);
  useEffect(() => {
    isHere.current = true;
    return () => {
      isHere.current = false;
    };
  }, []);
  return (
    <>
      <FilesInput
        field={field}
        value={item.file === undefined ? '' : filesAs([item.file])}
        onChange={(value) => {
          // What arrives when something else has been chosen would undo what was changed since.
          if (!isHere.current) return;
          const { file: _, ...rest } = item;
          const [chosen] = filesIn(value);
          onChange(chosen === undefined ? rest : { ...rest, file: chosen });
        }}
        onBlur={() => undefined}
        name="image"
        problem={undefined}
        isInRow={false}
        inputRef={() => undefined}
      />
      <TextField
        label="What it shows"
        value={item.alt}
        onChange={(event) => onChange({ ...item, alt: event.target.value })}
        helperText="Read to people who can't see it. Empty if it only decorates."
        multiline
      />
    </>
  );
}
