import Dialog from '@mui/material/Dialog';
import IconButton from '@mui/material/IconButton';
import { ArrowSquareOutIcon, CaretLeftIcon, CaretRightIcon, DownloadSimpleIcon, XIcon } from '@phosphor-icons/react';
import { isImage, type HeldFile } from '@bibliona/core';
import { lazy, Suspense, useId, useState, type KeyboardEvent } from 'react';
import { Waiting } from '../Waiting.js';
import { addressOf, sizeWords, type FilePlace } from './held.js';

const PdfPages = lazy(() => import('./PdfPages.js'));

/** One image or PDF at a time, as large as the screen allows. */
export default function FileViewer(props: {
  readonly files: readonly HeldFile[];
  readonly first: number;
  readonly place: FilePlace;
  readonly onClose: () => void;
}) {
  const { files, first, place, onClose } = props;
  const [at, setAt] = useState(Math.max(0, first));
  const [isBroken, setBroken] = useState(false);
  const title = useId();
  const file = files[at];
  if (file === undefined) return null;
  const go = (to: number): void => {
    setBroken(false);
    setAt((to + files.length) % files.length);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    // Keys pressed here are not for the grid or the form behind.
    event.stopPropagation();
    if (files.length > 1 && event.key === 'ArrowLeft') go(at - 1);
    if (files.length > 1 && event.key === 'ArrowRight') go(at + 1);
    if (event.key === 'Escape') onClose();
  };
  const address = addressOf(place, file, 'whole');
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
          {file.name}
        </b>
        <span className="q">
          {sizeWords(file.size)}
          {files.length > 1 && ` · ${at + 1} of ${files.length}`}
        </span>
        <span className="end">
          {files.length > 1 && (
            <>
              <IconButton aria-label="Previous file" onClick={() => go(at - 1)}>
                <CaretLeftIcon size={18} />
              </IconButton>
              <IconButton aria-label="Next file" onClick={() => go(at + 1)}>
                <CaretRightIcon size={18} />
              </IconButton>
            </>
          )}
          <IconButton aria-label="Open in a tab of its own" href={address} target="_blank" rel="noopener noreferrer">
            <ArrowSquareOutIcon size={18} />
          </IconButton>
          <IconButton aria-label="Save to disk" href={addressOf(place, file, 'download')} download={file.name}>
            <DownloadSimpleIcon size={18} />
          </IconButton>
          <IconButton aria-label="Close" autoFocus onClick={onClose}>
            <XIcon size={18} />
          </IconButton>
        </span>
      </header>
      {isBroken ? (
        <p className="q">This file can't be shown here. It was removed from the record, or the server can't be reached.</p>
      ) : isImage(file) ? (
        <img key={file.hash} src={address} alt={file.name} onError={() => setBroken(true)} />
      ) : (
        <Suspense fallback={<Waiting />}>
          <PdfPages key={file.hash} address={address} name={file.name} />
        </Suspense>
      )}
    </Dialog>
  );
}
