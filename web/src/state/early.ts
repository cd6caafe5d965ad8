/** Answers that the first script of the page has asked for, by their paths. */
const started = new Map<string, Early>();

interface Early {
  /** Undefined: it was refused, or could not be asked for; what needs it asks again, and handles that. */
  readonly answer: Promise<unknown>;
  arrived?: unknown;
}

/** In milliseconds: an answer that nothing has taken by then is of a state that might have passed. */
const usableFor = 10_000;

export function startEarly(path: string): void {
  const early: Early = { answer: fetch(path).then(answerIn, () => undefined) };
  void early.answer.then((answer) => {
    early.arrived = answer;
  });
  started.set(path, early);
  setTimeout(() => started.delete(path), usableFor);
}

const answerIn = (response: Response): unknown => (response.ok ? response.json().catch(() => undefined) : undefined);

/** Waits until everything that was asked for early has been answered. */
export const earlyAnswers = (): Promise<unknown> => Promise.all([...started.values()].map(({ answer }) => answer));

/** The answer to an early request. Each is given once: later calls ask the server again. */
export function takeEarly(path: string): Promise<unknown> | undefined {
  const early = started.get(path);
  started.delete(path);
  return early?.answer;
}

/** The same for what is drawn at once: undefined if it has not come yet. */
export function takeArrived(path: string): unknown {
  const arrived = started.get(path)?.arrived;
  if (arrived !== undefined) started.delete(path);
  return arrived;
}
