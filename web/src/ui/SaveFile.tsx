import Button from '@mui/material/Button';
import { DownloadSimpleIcon } from '@phosphor-icons/react';
import { useState } from 'react';
import { messageOf } from '../state/api.js';
import { saveFile, type FileToSave } from '../state/made-files.js';
import { Note } from './Note.js';

/** Saves files: whether one is being made while one waits for it, and why the last one could not be. */
export function useSaveFile(): { readonly isSaving: boolean; readonly failure: string | null; readonly save: (file: FileToSave) => Promise<void> } {
  const [isSaving, setSaving] = useState(false);
  const [failure, setFailure] = useState<string | null>(null);
  const save = async (file: FileToSave): Promise<void> => {
    setSaving(true);
    setFailure(null);
    await saveFile(file).catch((error: unknown) => setFailure(messageOf(error)));
    setSaving(false);
  };
  return { isSaving, failure, save };
}

/** A button that saves a file; while it is made the button says so, and when it fails why. */
export function SaveFile({ label, look = 'outlined', ...file }: FileToSave & { readonly label: string; readonly look?: 'outlined' | 'text' }) {
  const { isSaving, failure, save } = useSaveFile();
  return (
    <>
      {failure !== null && <Note kind="bad">{failure}</Note>}
      <Button variant={look} startIcon={<DownloadSimpleIcon />} loading={isSaving} loadingPosition="start" onClick={() => void save(file)}>
        {label}
      </Button>
    </>
  );
}
