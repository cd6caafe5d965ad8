/** Connections besides TypeORM's. One that breaks is told of by what it is asked; without a listener of its own it would end the process. */
import pg from 'pg';

const bearLoss = (connection: pg.ClientBase): void => void connection.on('error', () => undefined);

/** A connection that is not open yet. */
export function ownClient(url: string): pg.Client {
  const client = new pg.Client({ connectionString: url, application_name: 'bibliona' });
  bearLoss(client);
  return client;
}

type Taken = (error: Error | undefined, client: pg.PoolClient | undefined, giveBack: (reason?: Error | boolean) => void) => void;

/** Connections for a library that may give one back twice when it breaks at the wrong moment. */
export function forgivingPool(url: string, name: string, most: number): pg.Pool {
  const pool = new pg.Pool({ connectionString: url, max: most, application_name: name });
  pool.on('error', () => undefined);
  pool.on('connect', bearLoss);
  const connect = pool.connect.bind(pool);
  const forgiving = (taken?: Taken): unknown => {
    if (taken === undefined) return connect();
    return connect((error, client, giveBack) => {
      let isOut = client !== undefined;
      taken(error, client, (reason) => {
        if (isOut) giveBack(reason);
        isOut = false;
      });
    });
  };
  return Object.assign(pool, { connect: forgiving as typeof connect });
}
