import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import LinearProgress from '@mui/material/LinearProgress';
import { PlusIcon, XIcon } from '@phosphor-icons/react';
import { filesIn } from '@bibliona/core';
import { useContext, useRef, useState, type ClipboardEvent, type DragEvent } from 'react';
import { useAppId } from '../state/app.js';
import { FileLink, useViewer } from '../ui/files/HeldFiles.js';
import { RecordAt, sizeWords } from '../ui/files/held.js';
import type { FieldInputProps } from './kind.js';
import { FieldGroup } from './FieldGroup.js';
import { accepted, useUploads, type FilesField } from './uploads.js';

/** Files that are dropped, pasted or chosen, and those that are here. */
export function FilesInput(props: FieldInputProps<FilesField>) {
  const { field, value, onChange, onBlur, problem, isInRow, inputRef } = props;
  const app = useAppId();
  const at = useContext(RecordAt);
  const { arriving, problems, add, remove } = useUploads(field, value, onChange);
  const [isOver, setOver] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const files = filesIn(value);
  const recordField = { app, table: at?.table ?? '', record: at?.record ?? null, field: field.id };
  const { show, viewer } = useViewer(files, recordField);
  const isFull = files.length + arriving.length >= field.most;
  const said = [...(problem === undefined ? [] : [problem]), ...problems];
  const take = (list: FileList | undefined): boolean => {
    if (list === undefined || list.length === 0) return false;
    add([...list]);
    return true;
  };
  const onDrop = (event: DragEvent): void => {
    event.preventDefault();
    setOver(false);
    take(event.dataTransfer.files);
  };
  const onPaste = (event: ClipboardEvent): void => {
    if (take(event.clipboardData.files)) event.preventDefault();
  };
  const onDragOver = (event: DragEvent): void => {
    if (!event.dataTransfer.types.includes('Files')) return;
    event.preventDefault();
    setOver(true);
  };
  return (
    <FieldGroup
      field={field}
      isInRow={isInRow}
      problems={said}
      className={`files-input ${isOver ? 'over' : ''} ${said.length > 0 ? 'bad' : ''}`}
      onDragOver={onDragOver}
      onDragLeave={() => setOver(false)}
      onDrop={onDrop}
      onPaste={onPaste}
      onBlur={onBlur}
    >
      {files.length > 0 && (
        <ul>
          {files.map((file, i) => (
            <li key={`${file.hash} ${i}`}>
              <FileLink file={file} place={recordField} isNamed onShow={() => show(file)} />
              <span className="q">{sizeWords(file.size)}</span>
              <IconButton size="small" aria-label={`Remove ${file.name}`} onClick={() => remove(i)}>
                <XIcon size={14} />
              </IconButton>
            </li>
          ))}
        </ul>
      )}
      {arriving.length > 0 && (
        <ul aria-label="Being added" aria-live="polite">
          {arriving.map((each) => (
            <li key={each.id}>
              <span className="el">{each.name}</span>
              <LinearProgress variant="determinate" value={each.part * 100} aria-label={`${each.name}: ${Math.round(each.part * 100)}% sent`} />
              <IconButton size="small" aria-label={`Stop adding ${each.name}`} onClick={each.stop}>
                <XIcon size={14} />
              </IconButton>
            </li>
          ))}
        </ul>
      )}
      <div className="files-add">
        <Button
          ref={inputRef as unknown as React.Ref<HTMLButtonElement>}
          variant="outlined"
          startIcon={<PlusIcon size={14} />}
          disabled={isFull}
          aria-label={isInRow ? `Add to ${field.name}` : undefined}
          onClick={() => chooser.current?.click()}
        >
          {field.kind === 'image' ? (field.most === 1 ? 'Image' : 'Images') : field.most === 1 ? 'File' : 'Files'}
        </Button>
        {!isInRow && <span className="q sm">{isFull ? `${field.most === 1 ? 'Remove it' : 'Remove one'} to add another.` : 'Or drop or paste here.'}</span>}
      </div>
      <input
        ref={chooser}
        type="file"
        hidden
        multiple={field.most > 1}
        accept={accepted(field)}
        aria-label={`Choose files for ${field.name}`}
        onChange={(event) => {
          take(event.target.files ?? undefined);
          // The same file can be chosen again.
          event.target.value = '';
        }}
      />
      {viewer}
    </FieldGroup>
  );
}
