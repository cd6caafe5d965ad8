import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useState } from 'react';

/** Nothing for 300 ms, then a thin line; words after three seconds. */
export function Waiting({ words = 'Still loading …' }: { readonly words?: string }) {
  const [phase, setPhase] = useState<'quiet' | 'line' | 'words'>('quiet');
  useEffect(() => {
    const line = setTimeout(() => setPhase('line'), 300);
    const said = setTimeout(() => setPhase('words'), 3000);
    return () => {
      clearTimeout(line);
      clearTimeout(said);
    };
  }, []);
  if (phase === 'quiet') return <div className="waiting" />;
  return (
    <div className="waiting" role="status">
      <LinearProgress aria-label="Loading" />
      {phase === 'words' && <p className="q">{words}</p>}
    </div>
  );
}
