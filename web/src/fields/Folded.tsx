import Button from '@mui/material/Button';
import { useLayoutEffect, useRef, useState, type ReactNode } from 'react';

/** A long text as it is read: its first lines, and the rest where somebody asks for it. */
export function Folded({ children }: { readonly children: ReactNode }) {
  const [isOpen, setOpen] = useState(false);
  const [isLong, setLong] = useState(false);
  const box = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    const inner = box.current;
    if (inner === null) return undefined;
    // How much there is changes with the width, and when what is in it has come.
    const look = new ResizeObserver(() => setLong((before) => (inner.classList.contains('open') ? before : inner.scrollHeight > inner.clientHeight + 1)));
    look.observe(inner);
    for (const part of inner.children) look.observe(part);
    return () => look.disconnect();
  }, [children]);
  return (
    <div className="folded">
      <div ref={box} className={isOpen ? 'folded-text open' : 'folded-text'}>
        {children}
      </div>
      {isLong && (
        <Button size="small" className="go" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? 'Show less' : 'Show more'}
        </Button>
      )}
    </div>
  );
}
