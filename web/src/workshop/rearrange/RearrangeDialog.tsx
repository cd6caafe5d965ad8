import type { Rearrangement } from '@bibliona/core';
import { useEffect, useState, type ReactNode } from 'react';
import { useRestore } from '../../state/design.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';
import { ChangeUnderWay } from '../ChangeUnderWay.js';
import { DesignPreview, useDesignPreview } from '../versions/DesignPreview.js';

// Asked once a person stops typing, in milliseconds.
const pause = 400;

/** What rearranging would do to the app and to its records, under the questions that it depends on, and the button that does it. */
export function RearrangeDialog(props: {
  readonly title: string;
  readonly intro: string;
  /** What is answered so far makes; null: an answer is missing. */
  readonly plan: Rearrangement | null;
  readonly verb: string;
  /** The questions. */
  readonly children: ReactNode;
  readonly onClose: () => void;
  /** Called once it is done. */
  readonly onDone: () => void;
}) {
  const { title, intro, plan, verb, children, onClose, onDone } = props;
  const restore = useRestore();
  const [isSending, setSending] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const written = plan === null ? null : JSON.stringify(plan);
  const [asked, setAsked] = useState(written);
  useEffect(() => {
    const timer = setTimeout(() => setAsked(written), pause);
    return () => clearTimeout(timer);
  }, [written]);
  const preview = useDesignPreview(asked === null ? null : { kind: 'rearranged', plan: JSON.parse(asked) as Rearrangement });
  const send = async (): Promise<void> => {
    if (plan === null) return setProblem('Fill in what is missing.');
    setSending(true);
    // What is shown here need not be asked about again.
    const outcome = await restore({ kind: 'rearranged', plan }, `${title}?`, asked === written && preview.data !== undefined);
    setSending(false);
    if (outcome === true) onDone();
    else setProblem(outcome.text);
  };
  return (
    <FormDialog isWide title={title} intro={intro} onClose={onClose} onSubmit={() => void send()} verb={verb} isSending={isSending}>
      {children}
      {plan !== null && asked !== null && <DesignPreview preview={preview} />}
      <ChangeUnderWay />
      {problem !== null && <Note kind="bad">{problem}</Note>}
    </FormDialog>
  );
}
