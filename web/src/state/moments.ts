/** A moment as logs show it: the day and the minute. */
export const printMoment = (at: string): string =>
  new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', year: 'numeric', hour: '2-digit', minute: '2-digit' });
