import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { XIcon } from '@phosphor-icons/react';
import type { VersionRow } from '@bibliona/core';
import { useEffect } from 'react';
import { useChangeUnderWay, useDesignNotice, type DesignNotice } from '../state/design.js';
import { Ask } from '../ui/Ask.js';
import { Note } from '../ui/Note.js';
import { ChangeUnderWay } from './ChangeUnderWay.js';
import { RecordLinks } from './RecordLinks.js';
import { Differences } from './versions/Differences.js';

// What went well needs no answer; what did not stays until it is closed. In milliseconds.
const goodStays = 8000;

/** What the last change of the design asks or says, and how far one is that takes a while. */
export function DesignNotices() {
  const isUnderWay = useChangeUnderWay((state) => state.title !== null);
  if (!isUnderWay) return <LastNotice />;
  return (
    <div className="notice">
      <ChangeUnderWay />
    </div>
  );
}

function LastNotice() {
  const { notice, say } = useDesignNotice();
  useEffect(() => {
    if (notice.kind !== 'message' || !notice.isGood) return undefined;
    const timer = setTimeout(() => say({ kind: 'none' }), goodStays);
    return () => clearTimeout(timer);
  }, [notice, say]);
  switch (notice.kind) {
    case 'none':
      return null;
    case 'message':
      return (
        <div className="notice">
          <Note
            kind={notice.isGood ? 'good' : 'look'}
            action={
              <>
                {notice.undo !== undefined && <Button onClick={notice.undo}>Undo</Button>}
                <IconButton aria-label="Close" onClick={() => say({ kind: 'none' })}>
                  <XIcon size={16} />
                </IconButton>
              </>
            }
          >
            {notice.text}
          </Note>
        </div>
      );
    case 'overtaken':
      return (
        <Ask title="Save your version?" verb="Save mine" keep="Keep theirs" onAnswer={notice.answer}>
          <p>{notice.text}</p>
          {notice.versions.length > 0 && <Versions rows={notice.versions} />}
          <p>If you save your version, it replaces theirs. Both stay in the history of changes. Undo restores theirs.</p>
        </Ask>
      );
    case 'consent':
      return <Consent notice={notice} />;
    default:
      return notice satisfies never;
  }
}

/** Records first: what happens to them is what a person has to decide about. */
function Consent({ notice: { question, steps, answer } }: { readonly notice: Extract<DesignNotice, { readonly kind: 'consent' }> }) {
  const found = steps.filter((step) => step.found !== null);
  return (
    <Ask title={question.title} verb={question.title.replace(/\?$/u, '')} keep="Keep it as it is" onAnswer={answer}>
      {found.length > 0 && (
        <ul className="touches">
          {found.map((step, i) => (
            <li key={i}>
              {step.found}
              <RecordLinks records={step.records} />
            </li>
          ))}
        </ul>
      )}
      {question.besides.length > 0 && (
        <>
          <p>Other parts of the app change too:</p>
          <Differences of={question.besides} label="What else changes in the app" />
        </>
      )}
    </Ask>
  );
}

/** Both versions side by side; what differs from before stands out. */
const Versions = ({ rows }: { readonly rows: readonly VersionRow[] }) => (
  <div className="versions" tabIndex={0} role="group" aria-label="Both versions">
    <table className="rows">
      <thead>
        <tr>
          <th scope="col">Setting</th>
          <th scope="col">Theirs</th>
          <th scope="col">Yours</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ where, before, theirs, mine }) => (
          <tr key={where}>
            <th scope="row">{where}</th>
            <td className={theirs === before ? 'q' : ''}>{theirs}</td>
            <td className={mine === before ? 'q' : ''}>{mine}</td>
          </tr>
        ))}
      </tbody>
    </table>
  </div>
);
