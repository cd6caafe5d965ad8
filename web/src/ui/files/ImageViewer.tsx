import Dialog from '@mui/material/Dialog';
import IconButton from '@mui/material/IconButton';
import { CaretLeftIcon, CaretRightIcon, DownloadSimpleIcon, XIcon } from '@phosphor-icons/react';
import type { HeldFile } from '@bibliona/core';
import { useId, useState, type KeyboardEvent } from 'react';
import { addressOf, sizeWords, type FilePlace } from './held.js';

/** One image at a time, as large as the screen allows. */
export default function ImageViewer(props: {
  readonly images: readonly HeldFile[];
  readonly first: number;
  readonly place: FilePlace;
  readonly onClose: () => void;
}) {
  const { images, first, place, onClose } = props;
  const [at, setAt] = useState(Math.max(0, first));
  const [isBroken, setBroken] = useState(false);
  const title = useId();
  const image = images[at];
  if (image === undefined) return null;
  const go = (to: number): void => {
    setBroken(false);
    setAt((to + images.length) % images.length);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    // Keys pressed here are not for the grid or the form behind.
    event.stopPropagation();
    if (images.length > 1 && event.key === 'ArrowLeft') go(at - 1);
    if (images.length > 1 && event.key === 'ArrowRight') go(at + 1);
    if (event.key === 'Escape') onClose();
  };
  return (
    <Dialog
      open
      onClose={onClose}
      onKeyDown={onKeyDown}
      onClick={(event) => event.stopPropagation()}
      aria-labelledby={title}
      transitionDuration={0}
      maxWidth={false}
      slotProps={{ paper: { className: 'viewer' } }}
    >
      <header>
        <b className="el" id={title}>
          {image.name}
        </b>
        <span className="q">
          {sizeWords(image.size)}
          {images.length > 1 && ` · ${at + 1} of ${images.length}`}
        </span>
        <span className="end">
          {images.length > 1 && (
            <>
              <IconButton aria-label="Previous image" onClick={() => go(at - 1)}>
                <CaretLeftIcon size={18} />
              </IconButton>
              <IconButton aria-label="Next image" onClick={() => go(at + 1)}>
                <CaretRightIcon size={18} />
              </IconButton>
            </>
          )}
          <IconButton aria-label="Save to disk" href={addressOf(place, image, 'download')} download={image.name}>
            <DownloadSimpleIcon size={18} />
          </IconButton>
          <IconButton aria-label="Close" autoFocus onClick={onClose}>
            <XIcon size={18} />
          </IconButton>
        </span>
      </header>
      {isBroken ? (
        <p className="q">This image can't be shown. It was removed from the record, or the server can't be reached.</p>
      ) : (
        <img key={image.hash} src={addressOf(place, image, 'whole')} alt={image.name} onError={() => setBroken(true)} />
      )}
    </Dialog>
  );
}
