import { contract, type DesignTarget } from '@bibliona/core';
import { useQuery, type UseQueryResult } from '@tanstack/react-query';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { RecordLinks } from '../RecordLinks.js';
import { Differences } from './Differences.js';

type Preview = Awaited<ReturnType<typeof call<typeof contract.previewRestore>>>;

/** What another design would change in the app and in its records; null: it is not known yet which. */
export function useDesignPreview(to: DesignTarget | null): UseQueryResult<Preview> {
  const app = useApp();
  return useQuery({
    queryKey: [...keys.log(app.id), app.version, 'restore', to],
    queryFn: () => call(contract.previewRestore, { params: { app: app.id }, body: { version: app.version, to: to as DesignTarget } }),
    enabled: to !== null,
    gcTime: 0,
    retry: false,
  });
}

/** Records first: what happens to them is what a person has to decide about. */
export function DesignPreview({ preview: { data, error } }: { readonly preview: UseQueryResult<Preview> }) {
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  if (data === undefined) return <Waiting />;
  if (data.differences.length === 0) return <p>It is the same as what you see now.</p>;
  const published = data.differences.filter((difference) => difference.published === 'begins');
  const found = data.steps.filter((step) => step.found !== null);
  return (
    <>
      {found.length > 0 && (
        <Note kind={found.some((step) => step.blocks) ? 'bad' : 'look'}>
          {found.map((step, i) => (
            <span key={i}>
              {step.found} <RecordLinks records={step.records} />
            </span>
          ))}
        </Note>
      )}
      {published.length > 0 && (
        <Note kind="look">
          It publishes {published.map(({ what, name }) => `the ${what} ${name}`).join(', ')}: everyone who knows the address can open{' '}
          {published.length === 1 ? 'it' : 'them'} without signing in.
        </Note>
      )}
      <Differences of={data.differences} label="What would change" />
    </>
  );
}
