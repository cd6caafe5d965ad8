import autocannon from 'autocannon';

export const connections = 16;
const seconds = 5;

const values = {
  b_code: 'C-1',
  b_keeper: 'Tamsin Oake',
  b_place: 'Brackmoor',
  b_number: 12,
  b_mites: 3,
  b_bees: 300,
  b_warmth: '18.5',
  b_amount: '12.5',
  b_date: '2026-09-14',
  b_next: '2026-09-28',
  b_queen: true,
  b_stores: 'fair',
};

/** A new record, without some of its fields. */
export const aWrite = (without: readonly string[] = []): object => ({
  kind: 'add',
  table: 'visits',
  as: 'a',
  values: Object.fromEntries(Object.entries(values).filter(([field]) => !without.includes(field))),
});

/** The body of a request that saves one new record, each time under a key of its own. */
export const aSave = (): object => ({ key: crypto.randomUUID(), writes: [aWrite()] });

/** Saves one record after another for a while; how many a second. @throws Error when one of them is refused */
export async function fire(url: string, cookie?: string): Promise<number> {
  const result = await autocannon({
    url,
    connections,
    duration: seconds,
    method: 'POST',
    headers: { 'content-type': 'application/json', ...(cookie === undefined ? {} : { cookie }) },
    requests: [{ setupRequest: (request) => ({ ...request, body: JSON.stringify(aSave()) }) }],
  });
  if (result.non2xx > 0 || result.errors > 0) throw new Error(`${result.non2xx + result.errors} of the saves were refused`);
  return result.requests.average;
}
