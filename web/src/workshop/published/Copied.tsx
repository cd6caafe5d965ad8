import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';

/** A text to take elsewhere. */
export function Copied({ label, text, link }: { readonly label: string; readonly text: string; readonly link?: string }) {
  const [isCopied, setCopied] = useState(false);
  return (
    <div className="copied">
      <TextField label={label} value={text} multiline slotProps={{ htmlInput: { readOnly: true } }} />
      <div className="copied-foot">
        <Button
          onClick={() => {
            void navigator.clipboard.writeText(text).then(() => setCopied(true));
          }}
        >
          {isCopied ? 'Copied' : 'Copy'}
        </Button>
        {link !== undefined && (
          <Button component="a" href={link} target="_blank" rel="noopener">
            Open it
          </Button>
        )}
      </div>
    </div>
  );
}
