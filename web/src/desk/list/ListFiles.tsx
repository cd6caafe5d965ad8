import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { DownloadSimpleIcon } from '@phosphor-icons/react';
import { useState } from 'react';
import type { Selection, Table } from '@bibliona/core';
import { useApp } from '../../state/app.js';
import { Note } from '../../ui/Note.js';
import { useSaveFile } from '../../ui/SaveFile.js';
import { filesOf } from './files.js';

/** The records of a list as a file, as it is searched, filtered and sorted; the columns that one sees on paper. */
export default function ListFiles(props: { readonly table: Table; readonly name: string; readonly selection: Selection; readonly columns: readonly string[] }) {
  const app = useApp();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { isSaving, failure, save } = useSaveFile();
  const { csv, pdf } = filesOf(app.id, props);
  const take = (file: typeof csv): void => {
    setAnchor(null);
    void save(file);
  };
  return (
    <>
      {failure !== null && <Note kind="bad">{failure}</Note>}
      <Button
        variant="outlined"
        startIcon={<DownloadSimpleIcon />}
        loading={isSaving}
        loadingPosition="start"
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Save as
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)} transitionDuration={0}>
        <MenuItem onClick={() => take(csv)}>CSV, for spreadsheets</MenuItem>
        <MenuItem onClick={() => take(pdf)}>PDF, for printing</MenuItem>
      </Menu>
    </>
  );
}
