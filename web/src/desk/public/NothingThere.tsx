import { messageOf } from '../../state/api.js';
import { Note } from '../../ui/Note.js';
import { PublicSheet } from './PublicSheet.js';

export interface PublishedProps {
  readonly app: string;
  /** As addresses name it. */
  readonly part: string;
}

/** Why there is nothing to see. */
export const NothingRead = ({ error }: { readonly error: unknown }) => <NothingThere words={messageOf(error)} />;

export function NothingThere({ words }: { readonly words: string }) {
  return (
    <PublicSheet name="Nothing here">
      <Note kind="bad">{words}</Note>
    </PublicSheet>
  );
}
