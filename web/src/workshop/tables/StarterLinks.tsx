import { contract } from '@bibliona/core';
import Button from '@mui/material/Button';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { useStarters } from '../../state/starters.js';
import { Note } from '../../ui/Note.js';

/** Designs that an empty app can start with. */
export function StarterLinks() {
  const app = useApp();
  const client = useQueryClient();
  const starters = useStarters();
  const [chosen, setChosen] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const use = async (starter: string): Promise<void> => {
    setChosen(starter);
    setProblem(null);
    try {
      client.setQueryData(keys.app(app.id), await call(contract.useStarter, { params: { app: app.id }, body: { version: app.version, starter } }));
      await client.invalidateQueries({ queryKey: keys.app(app.id) });
    } catch (error) {
      setProblem(messageOf(error));
      setChosen(null);
    }
  };
  if (starters.length === 0) return null;
  return (
    <section className="starter-links" aria-label="Start with a design">
      <h3>Or start with a design that has a few records</h3>
      <ul>
        {starters.map(({ id, name, description }) => (
          <li key={id}>
            <Button variant="outlined" loading={chosen === id} disabled={chosen !== null} onClick={() => void use(id)}>
              {name}
            </Button>
            <span className="q">{description}</span>
          </li>
        ))}
      </ul>
      {problem !== null && <Note kind="bad">{problem}</Note>}
    </section>
  );
}
