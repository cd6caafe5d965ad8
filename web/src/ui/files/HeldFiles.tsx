import { FileIcon, FilePdfIcon } from '@phosphor-icons/react';
import { endingOf, isImage, type HeldFile } from '@bibliona/core';
import { lazy, Suspense, useState, type MouseEvent, type ReactNode } from 'react';
import { addressOf, type FilePlace } from './held.js';

const FileViewer = lazy(() => import('./FileViewer.js'));
const isPdf = (file: HeldFile): boolean => endingOf(file.name) === 'pdf';
const isShown = (file: HeldFile): boolean => isImage(file) || isPdf(file);

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

/** Shows images and documents one at a time: `show` opens the viewer, which is drawn where `viewer` stands. */
export function useViewer(files: readonly HeldFile[], place: FilePlace): { readonly show: (file: HeldFile) => void; readonly viewer: ReactNode } {
  const [shown, setShown] = useState<HeldFile | null>(null);
  const all = files.filter(isShown);
  const viewer = shown !== null && (
    <Suspense>
      <FileViewer
        files={all}
        first={all.findIndex(({ hash, name }) => hash === shown.hash && name === shown.name)}
        place={place}
        onClose={() => setShown(null)}
      />
    </Suspense>
  );
  return { show: setShown, viewer };
}

/** The files that a field holds: images and PDF open in a viewer, all else is saved to the disk. */
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
  const opening = {
    href: addressOf(place, file, 'whole'),
    target: '_blank',
    rel: 'noopener noreferrer',
    title: file.name,
    'aria-label': `Show ${file.name}`,
    ...tab,
    onClick: (event: MouseEvent) => {
      // With a key held down a link does what it does everywhere.
      if (event.ctrlKey || event.metaKey || event.shiftKey) return;
      event.preventDefault();
      onShow();
    },
  };
  if (isImage(file))
    return (
      <a className="held-image" {...opening}>
        <img src={addressOf(place, file, 'preview')} alt="" loading="lazy" decoding="async" />
        {isNamed && <span className="el">{file.name}</span>}
      </a>
    );
  if (isPdf(file))
    return (
      <a className="held-file lk" {...opening}>
        <FilePdfIcon size={16} />
        <span className="el">{file.name}</span>
      </a>
    );
  return (
    <a className="held-file lk" href={addressOf(place, file, 'download')} download={file.name} title={file.name} {...tab}>
      <FileIcon size={16} />
      <span className="el">{file.name}</span>
    </a>
  );
}
