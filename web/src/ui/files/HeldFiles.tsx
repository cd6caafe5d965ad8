import { FileIcon, FilePdfIcon } from '@phosphor-icons/react';
import { endingOf, isImage, type HeldFile } from '@bibliona/core';
import { lazy, Suspense, useState, type MouseEvent, type ReactNode } from 'react';
import { addressOf, type FilePlace } from './held.js';

const ImageViewer = lazy(() => import('./ImageViewer.js'));

interface HeldFilesProps {
  readonly files: readonly HeldFile[];
  readonly place: FilePlace;
  /** How many are drawn; the others are counted. */
  readonly most?: number;
  /** Files with their names, as a form shows them; else small, as in a cell. */
  readonly isNamed?: boolean;
  /** Whether they are reached with Tab. */
  readonly isReached?: boolean;
}

/** Shows images one at a time: `show` opens the viewer, which is drawn where `viewer` stands. */
export function useViewer(files: readonly HeldFile[], place: FilePlace): { readonly show: (file: HeldFile) => void; readonly viewer: ReactNode } {
  const [shown, setShown] = useState<HeldFile | null>(null);
  const images = files.filter(isImage);
  const viewer = shown !== null && (
    <Suspense>
      <ImageViewer images={images} first={images.indexOf(shown)} place={place} onClose={() => setShown(null)} />
    </Suspense>
  );
  return { show: setShown, viewer };
}

/** The files that a field holds: images open in a viewer, documents in a tab of their own, all else is saved to the disk. */
export function HeldFiles({ files, place, most = files.length, isNamed = false, isReached = true }: HeldFilesProps) {
  const { show, viewer } = useViewer(files, place);
  const more = files.length - most;
  return (
    <span className={isNamed ? 'held named' : 'held'}>
      {files.slice(0, most).map((file, i) => (
        <FileLink key={`${file.hash} ${i}`} {...{ file, place, isNamed, isReached }} onShow={() => show(file)} />
      ))}
      {more > 0 && <span className="q">and {more} more</span>}
      {viewer}
    </span>
  );
}

export function FileLink({
  file,
  place,
  isNamed,
  isReached = true,
  onShow,
}: {
  readonly file: HeldFile;
  readonly place: FilePlace;
  readonly isNamed: boolean;
  readonly isReached?: boolean;
  readonly onShow: () => void;
}) {
  const tab = isReached ? {} : { tabIndex: -1 };
  if (isImage(file))
    return (
      <a
        className="held-image"
        href={addressOf(place, file, 'whole')}
        target="_blank"
        rel="noopener noreferrer"
        title={file.name}
        aria-label={`Show ${file.name}`}
        {...tab}
        onClick={(event: MouseEvent) => {
          // With a key held down a link does what it does everywhere.
          if (event.ctrlKey || event.metaKey || event.shiftKey) return;
          event.preventDefault();
          onShow();
        }}
      >
        <img src={addressOf(place, file, 'preview')} alt="" loading="lazy" decoding="async" />
        {isNamed && <span className="el">{file.name}</span>}
      </a>
    );
  const isPdf = endingOf(file.name) === 'pdf';
  const Icon = isPdf ? FilePdfIcon : FileIcon;
  return (
    <a
      className="held-file lk"
      href={addressOf(place, file, isPdf ? 'whole' : 'download')}
      {...(isPdf ? { target: '_blank', rel: 'noopener noreferrer' } : { download: file.name })}
      title={file.name}
      {...tab}
    >
      <Icon size={16} />
      <span className="el">{file.name}</span>
    </a>
  );
}
