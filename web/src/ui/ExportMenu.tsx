import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { DownloadSimpleIcon } from '@phosphor-icons/react';
import { useState } from 'react';
import type { FileToSave } from '../state/made-files.js';
import { Note } from './Note.js';
import { useSaveFile } from './SaveFile.js';

/** A file, and what it is for: `XLSX, for spreadsheets`. */
export interface FileChoice {
  readonly word: string;
  readonly file: FileToSave;
}

export interface ExportMenuProps {
  /** @param isShort whether only what is on the screen is wanted */
  readonly files: (isShort: boolean) => readonly FileChoice[];
  /** What is said of a file with only what is on the screen; absent: there is no such choice. */
  readonly short?: string;
  readonly look?: 'outlined' | 'text';
}

/** A button that saves the same records as a file of any format. */
export function ExportMenu({ files, short, look = 'outlined' }: ExportMenuProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [isShort, setShort] = useState(false);
  const { isSaving, failure, save } = useSaveFile();
  return (
    <>
      {failure !== null && <Note kind="bad">{failure}</Note>}
      <Button
        variant={look}
        startIcon={<DownloadSimpleIcon />}
        loading={isSaving}
        loadingPosition="start"
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Export
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)} transitionDuration={0}>
        {files(isShort).map(({ word, file }) => (
          <MenuItem
            key={word}
            onClick={() => {
              setAnchor(null);
              void save(file);
            }}
          >
            {word}
          </MenuItem>
        ))}
        {short !== undefined && (
          <MenuItem role="menuitemcheckbox" aria-checked={isShort} divider={false} onClick={() => setShort(!isShort)}>
            <FormControlLabel
              className="menu-check"
              control={<Checkbox checked={isShort} tabIndex={-1} size="small" />}
              label={short}
              onClick={(event) => event.preventDefault()}
            />
          </MenuItem>
        )}
      </Menu>
    </>
  );
}
