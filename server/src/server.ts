/** Puts the parts together: one server process. Any number of them can share a database. */
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import type { DataSource } from 'typeorm';
import { AppsService } from './apps/apps.js';
import { Designs } from './apps/designs.js';
import { appRoutes } from './apps/routes.js';
import type { Config } from './config.js';
import { announce, listen } from './db/announce.js';
import { openDatabase } from './db/database.js';
import { application } from './http/application.js';
import { Mails } from './mail/mails.js';
import { mailRoutes } from './mail/routes.js';
import { MailSender } from './mail/sender.js';
import { openStandIn } from './mail/stand-in.js';
import { ImportsService } from './imports/imports.js';
import { importRoutes } from './imports/routes.js';
import { People } from './people/people.js';
import { memberRoutes } from './people/member-routes.js';
import { Members } from './people/members.js';
import { keepSession, peopleRoutes } from './people/routes.js';
import { WhoAsks } from './people/who-asks.js';
import { lookAs } from './people/look-as.js';
import { dashboardRoutes } from './dashboards/routes.js';
import { workflowRoutes } from './workflow/routes.js';
import { Runs } from './workflow/runs.js';
import { Workflow } from './workflow/workflow.js';
import { queryRoutes } from './queries/routes.js';
import { recordRoutes } from './records/routes.js';
import { reportRoutes } from './reports/routes.js';

export interface RunningServer {
  readonly address: string;
  readonly database: DataSource;
  readonly people: People;
  readonly apps: AppsService;
  readonly close: () => Promise<void>;
}

const statementTimeout = 30_000;
const housekeepingEvery = 6 * 3_600_000;

export async function startServer(config: Config): Promise<RunningServer> {
  const log = pino({ level: config.log }, pino.destination(2));
  const database = await openDatabase({ url: config.databaseUrl, connections: 12, statementTimeout });
  const whoAsks = new WhoAsks(database, new Designs(database));
  // This process lets go at once; the others as they hear of it.
  const changed = (): Promise<void> => {
    whoAsks.forget();
    return announce(database);
  };
  const people = new People(database, changed);
  const apps = new AppsService(database, changed);
  // Known once the server listens; nobody is invited before.
  let address = config.address ?? '';
  const members = new Members(database, people, changed, () => address);
  const mails = new Mails(database, config.smtp === null);
  const keep = keepSession(config.address?.startsWith('https:') === true);
  const stopListening = listen(config.databaseUrl, () => whoAsks.forget());
  const imports = new ImportsService(database, {
    url: config.databaseUrl,
    files: config.files,
    onFault: (error) => log.error({ error: error.message }, 'import worker failed'),
  });
  const koa = application({
    served: [
      ...peopleRoutes(people, whoAsks, keep),
      ...memberRoutes(database, members, apps, mails, keep),
      ...appRoutes(apps, database),
      ...recordRoutes(database),
      ...queryRoutes(database),
      ...reportRoutes(database),
      ...dashboardRoutes(database),
      ...workflowRoutes(new Workflow(database, members), new Runs(database)),
      ...mailRoutes(mails),
      ...importRoutes(imports),
    ],
    callerOf: (token, app) => whoAsks.callerOf(token, app),
    lookAs: (caller, as) => lookAs(members, caller, as),
    web: config.web,
    address: config.address,
    log,
  });
  const handle = koa.callback();
  const http = createServer((request, response) => void handle(request, response));
  await listenAt(http, config);
  address = config.address ?? `http://${config.host}:${(http.address() as AddressInfo).port}`;
  const standIn = config.smtp === null ? await openStandIn(database) : null;
  const sender = new MailSender(database, {
    url: config.databaseUrl,
    smtp: config.smtp ?? standIn?.smtp ?? '',
    from: config.mailFrom,
    onFault: (error) => log.error({ error: error.message }, 'sending mails failed'),
  });
  const housekeeping = async (): Promise<void> => {
    const now = new Date();
    await apps.forgetKept(now);
    await imports.forgetFiles(now);
    await mails.forget(now);
  };
  let tidying = Promise.resolve();
  const tidy = (): void => {
    tidying = housekeeping().catch((error: Error) => log.error({ error: error.message }, 'housekeeping failed'));
  };
  tidy();
  const timer = setInterval(tidy, housekeepingEvery);
  return {
    address,
    database,
    people,
    apps,
    close: async () => {
      clearInterval(timer);
      // Requests under way are answered; connections that only wait are closed.
      const closed = new Promise<void>((resolve) => http.close(() => resolve()));
      http.closeIdleConnections();
      const patience = setTimeout(() => http.closeAllConnections(), 5000);
      await closed;
      clearTimeout(patience);
      await tidying;
      await imports.close();
      await sender.close();
      await standIn?.close();
      await stopListening();
      await database.destroy();
    },
  };
}

function listenAt(http: Server, config: Config): Promise<void> {
  return new Promise((resolve, reject) => {
    http.once('error', reject);
    http.listen(config.port, config.host, () => resolve());
  });
}
