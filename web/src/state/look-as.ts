/** Look as: the Desk of an app as another person or role would see it, in this window alone, until it is ended. */
interface Looking {
  readonly app: string;
  /** As the server takes it: `person:12`, `role:keeper`. */
  readonly as: string;
  readonly name: string;
}

const storedAs = 'bibliona look as';

export function lookedAs(app: string): Looking | null {
  const stored = sessionStorage.getItem(storedAs);
  const looking = stored === null ? null : (JSON.parse(stored) as Looking);
  return looking?.app === app ? looking : null;
}

// The page is loaded anew, so that nothing that the builder saw is left in it.
export function startLooking(looking: Looking): void {
  sessionStorage.setItem(storedAs, JSON.stringify(looking));
  window.location.assign(`/desk/${looking.app}`);
}
export function stopLooking(to: string): void {
  sessionStorage.removeItem(storedAs);
  window.location.assign(to);
}

/** What is sent along with each call from the Desk of an app that is looked at. */
export function lookHeaders(): Readonly<Record<string, string>> {
  const [, side, app] = window.location.pathname.split('/');
  const looking = side === 'desk' && app !== undefined ? lookedAs(app) : null;
  return looking === null ? {} : { 'x-look-as': looking.as };
}
