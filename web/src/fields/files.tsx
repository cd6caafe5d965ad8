import TextField from '@mui/material/TextField';
import { FileIcon, ImageIcon } from '@phosphor-icons/react';
import { endingOf, largestFile } from '@bibliona/core';
import { readWhole } from './digits.js';
import { lazyInput } from './lazy-input.js';
import type { FilesField } from './uploads.js';
import { quotedText, settingsOf, type FieldKindView, type FieldOf, type SettingsProps } from './kind.js';

const Input = lazyInput<FilesField>(async () => (await import('./FilesInput.js')).FilesInput, 'files-input');

/** As typed. */
interface FileSettings {
  readonly most: string;
  readonly largest: string;
  readonly endings: string;
}

const mostFiles = 50;

function Settings({ settings, onChange, problem, isAny }: SettingsProps<FileSettings> & { readonly isAny: boolean }) {
  const input = (at: keyof FileSettings, label: string, hint: string) => (
    <TextField
      label={label}
      value={settings[at]}
      error={problem?.at === at}
      helperText={problem?.at === at ? problem.text : hint}
      onChange={(event) => onChange({ ...settings, [at]: event.target.value })}
      {...(at === 'endings' ? {} : { type: 'number' })}
    />
  );
  return (
    <>
      {input('most', 'How many at most', '')}
      {input('largest', 'Largest size of one, MB', '')}
      {isAny && input('endings', 'Kinds of file', 'Their endings, such as pdf, docx. Empty: any.')}
    </>
  );
}
const AnyFile = (props: SettingsProps<FileSettings>) => <Settings {...props} isAny />;
const ImagesOnly = (props: SettingsProps<FileSettings>) => <Settings {...props} isAny={false} />;

const settingsFor = (kind: 'file' | 'image') =>
  settingsOf<FileSettings>({
    start: (field) =>
      field?.kind === 'file' || field?.kind === 'image'
        ? { most: String(field.most), largest: String(field.largest), endings: field.kind === 'file' ? field.endings.join(', ') : '' }
        : { most: '10', largest: '25', endings: '' },
    Editor: kind === 'file' ? AnyFile : ImagesOnly,
    read: (typed) => {
      const [most, largest] = [readWhole(typed.most, 1, mostFiles), readWhole(typed.largest, 1, largestFile)];
      if (most === null) return { ok: false, problem: { at: 'most', text: `A whole number from 1 to ${mostFiles}` } };
      if (largest === null) return { ok: false, problem: { at: 'largest', text: `A whole number from 1 to ${largestFile}` } };
      const endings = typed.endings
        .toLowerCase()
        .split(/[\s,;]+/u)
        .filter((ending) => ending !== '')
        .map((ending) => endingOf(`x.${ending.replace(/^\*?\./u, '')}`) || ending);
      const wrong = endings.find((ending) => !/^[a-z0-9]{1,10}$/u.test(ending));
      if (wrong !== undefined) return { ok: false, problem: { at: 'endings', text: `“${wrong}” is no ending of a file. Write them like pdf, docx` } };
      return { ok: true, plan: { most, largest, ...(kind === 'file' ? { endings: [...new Set(endings)] } : {}) } };
    },
  });

const shared = { CellEditor: null, picture: 'bars', start: null, picks: () => [], hint: quotedText, canConvert: true } as const;

export const file: FieldKindView<FieldOf<'file'>> = { Icon: FileIcon, Input, settings: settingsFor('file'), ...shared };
export const image: FieldKindView<FieldOf<'image'>> = { Icon: ImageIcon, Input, settings: settingsFor('image'), ...shared };
