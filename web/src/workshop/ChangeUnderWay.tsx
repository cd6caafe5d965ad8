import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { contract } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call, messageOf, tab } from '../state/api.js';
import { useApp } from '../state/app.js';
import { useChangeUnderWay } from '../state/design.js';
import { keys } from '../state/keys.js';

/** In milliseconds, between looks at how far it is. */
const pause = 1000;

/** How far a change of the design is that takes a while, and the button that stops it. */
export function ChangeUnderWay() {
  const title = useChangeUnderWay((state) => state.title);
  return title === null ? null : <UnderWay title={title} />;
}

/** It comes at the end of what may be a long dialog. */
const intoView = (element: HTMLElement | null): void => element?.scrollIntoView({ block: 'nearest' });

function UnderWay({ title }: { readonly title: string }) {
  const { id } = useApp();
  const [isStopping, setStopping] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const { data } = useQuery({
    queryKey: keys.underWay(id),
    queryFn: async () => (await call(contract.readChangeUnderWay, { params: { app: id }, query: { tab } })).underWay,
    refetchInterval: pause,
    staleTime: 0,
    gcTime: 0,
  });
  const part = data === undefined || data === null || data.of === 0 ? 0 : (data.step - 1) / data.of;
  const stop = async (): Promise<void> => {
    setStopping(true);
    try {
      await call(contract.stopChange, { params: { app: id }, body: { tab } });
    } catch (error) {
      setProblem(messageOf(error));
    } finally {
      setStopping(false);
    }
  };
  return (
    <div className="under-way" role="group" aria-label={title} ref={intoView}>
      <p role="status">{title}</p>
      <LinearProgress variant={part > 0 ? 'determinate' : 'indeterminate'} value={part * 100} aria-label="Progress" />
      <p className="q">{problem ?? wordsFor(data ?? null)}</p>
      <Button variant="outlined" loading={isStopping} onClick={() => void stop()}>
        Stop
      </Button>
    </div>
  );
}

type Told = ReturnType<typeof contract.readChangeUnderWay.answer.parse>['underWay'];

function wordsFor(underWay: Told): string {
  if (underWay === null) return 'Waiting for its turn.';
  const { step, of, seconds, isMine, doing } = underWay;
  const doings = {
    preparing: `Preparing the new values, step ${step} of ${of}`,
    waiting: 'Waiting until nobody works with these tables',
    changing: `Step ${step} of ${of}`,
  };
  const isLooking = step === 0 && doing === 'changing';
  const far = isLooking ? 'Looking at the records' : doings[doing];
  const besides =
    isLooking || doing !== 'changing'
      ? 'Nothing is changed yet, and others can go on working.'
      : 'All of it is changed or nothing. Others can use these tables again once it is done.';
  return `${isMine ? '' : 'Waiting for another change of this app. '}${far}, ${seconds} s so far. ${besides}`;
}
