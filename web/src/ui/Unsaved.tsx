import { useEffect, type ReactNode } from 'react';
import { useBlocker } from 'react-router';
import { Ask } from './Ask.js';

/** Asks before work that is not saved is left, and saves it on Ctrl+S. */
export function Unsaved(props: { readonly isDirty: boolean; readonly mayLeave: () => boolean; readonly onSave: () => void; readonly children: ReactNode }) {
  const { isDirty, mayLeave, onSave, children } = props;
  const blocker = useBlocker(({ currentLocation, nextLocation }) => isDirty && !mayLeave() && currentLocation.pathname !== nextLocation.pathname);
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 's') return;
      event.preventDefault();
      onSave();
    };
    const onLeave = (event: BeforeUnloadEvent): void => {
      if (isDirty) event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    window.addEventListener('beforeunload', onLeave);
    return () => {
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('beforeunload', onLeave);
    };
  });
  if (blocker.state !== 'blocked') return null;
  return (
    <Ask title="Leave without saving?" verb="Leave, losing the changes" keep="Stay here" onAnswer={(yes) => (yes ? blocker.proceed() : blocker.reset())}>
      {children}
    </Ask>
  );
}
