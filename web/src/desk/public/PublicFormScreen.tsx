import Button from '@mui/material/Button';
import { contract, type PublicFormAnswer } from '@bibliona/core';
import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { Suspense, useCallback, useState, type ReactNode } from 'react';
import { useParams } from 'react-router';
import '../../look/desk.js';
import { call, messageOf, pathOf } from '../../state/api.js';
import { AppContext, inHand } from '../../state/app.js';
import { ImageAddress } from '../../ui/files/held.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { PublicSheet } from './PublicSheet.js';
import { VisitorForm } from './VisitorForm.js';

type Opened = Extract<PublicFormAnswer, { state: 'open' }>;

/** A form that anyone can fill in, at an address of its own or within a page of another site. */
export default function PublicFormScreen() {
  const { app = '', form = '' } = useParams();
  // Each record that is sent has a ticket of its own.
  const [sent, setSent] = useState<readonly string[]>([]);
  const [isNext, setNext] = useState(true);
  const answer = useQuery({
    queryKey: ['public form', app, form, sent.length],
    queryFn: () => call(contract.readPublicForm, { params: { app, form } }),
    staleTime: Infinity,
    enabled: isNext,
  });
  const thanks = sent.at(-1);
  if (!isNext && thanks !== undefined)
    return (
      <PublicSheet name="Sent">
        <Note kind="good">{thanks === '' ? 'Thank you. It has arrived.' : thanks}</Note>
        <div>
          <Button variant="outlined" onClick={() => setNext(true)}>
            Fill in another
          </Button>
        </div>
      </PublicSheet>
    );
  if (answer.isError)
    return (
      <PublicSheet name="No form here">
        <Note kind="bad">{messageOf(answer.error)}</Note>
      </PublicSheet>
    );
  if (answer.data === undefined) return <Waiting />;
  if (answer.data.state === 'closed')
    return (
      <PublicSheet name={answer.data.name}>
        <p className="form-text">{answer.data.text === '' ? 'This form is closed.' : answer.data.text}</p>
      </PublicSheet>
    );
  return (
    <AppOfForm key={answer.data.ticket} answer={answer.data}>
      <PublicSheet name={answer.data.app.design.forms[0]?.name ?? ''}>
        <Suspense fallback={<Waiting />}>
          <VisitorForm
            answer={answer.data}
            onSent={(told) => {
              setSent([...sent, told]);
              setNext(false);
            }}
          />
        </Suspense>
      </PublicSheet>
    </AppOfForm>
  );
}

/** Below it, as much of the app as the form needs is at hand, and nothing else of any app is. */
function AppOfForm({ answer, children }: { readonly answer: Opened; readonly children: ReactNode }) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { staleTime: Infinity, retry: false } } }));
  const imageAddress = useCallback((app: string, hash: string) => pathOf(contract.readPublicImage, { app, form: answer.form, hash }, {}), [answer.form]);
  return (
    <QueryClientProvider client={client}>
      <AppContext value={inHand(answer.app)}>
        <ImageAddress value={imageAddress}>{children}</ImageAddress>
      </AppContext>
    </QueryClientProvider>
  );
}
