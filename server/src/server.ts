/** Puts the parts together: one server process. Any number of them can share a database. */
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { setTimeout as delay } from 'node:timers/promises';
import { fieldKindNames, loadKinds } from '@bibliona/core';
import { pino } from 'pino';
import type { DataSource } from 'typeorm';
import { AppsService } from './apps/apps.js';
import { MissingIndexes } from './apps/indexes.js';
import { Designs } from './apps/designs.js';
import { forgetAllPrepared } from './apps/preparation.js';
import { appRoutes } from './apps/routes.js';
import { forgetKept, makeMissingViews } from './apps/upkeep.js';
import { starterRoutes } from './starters/routes.js';
import type { Config } from './config.js';
import { announce, changedChannel } from './db/announce.js';
import { connect, openDatabase } from './db/database.js';
import { Notices } from './db/notices.js';
import { application } from './http/application.js';
import { Mails } from './mail/mails.js';
import { Comments } from './comments/comments.js';
import { commentRoutes } from './comments/routes.js';
import { mailRoutes } from './mail/routes.js';
import { Live, liveChannel } from './live/live.js';
import { liveRoutes } from './live/routes.js';
import { sendMail } from './mail/send-mail.js';
import { Jobs } from './jobs/jobs.js';
import { tidyUp } from './jobs/tidy-up.js';
import { FilesService } from './files/files.js';
import { postgresStore } from './files/postgres-store.js';
import { fileRoutes } from './files/routes.js';
import { ImportsService } from './imports/imports.js';
import { importRoutes } from './imports/routes.js';
import { MadeFiles } from './made-files/made-files.js';
import { madeFileRoutes } from './made-files/routes.js';
import { People } from './people/people.js';
import { memberRoutes } from './people/member-routes.js';
import { Members } from './people/members.js';
import { Account } from './people/account.js';
import { Cookies } from './http/cookies.js';
import { Invitations } from './people/invitations.js';
import { peopleRoutes } from './people/routes.js';
import { ServerPeople } from './people/server-people.js';
import { Sessions } from './people/sessions.js';
import { SigningIn, SlowDown } from './people/sign-in.js';
import { WhoAsks } from './people/who-asks.js';
import { lookAs } from './people/look-as.js';
import { PublicForms } from './public-forms/public-forms.js';
import { ownMenuRoutes } from './own-menu/routes.js';
import { publicFormRoutes } from './public-forms/routes.js';
import { PublishedReader } from './published/published.js';
import { publishedRoutes } from './published/routes.js';
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

/** The longest that one statement can take, in milliseconds. */
const [statementTimeout, heavyTimeout] = [15_000, 30_000];
/** For how long requests under way are waited for when the server ends. */
const closingPatience = 20_000;
/** How long requests are refused in words before connections are closed, in milliseconds. */
const farewell = 300;
/** In milliseconds. */
const tidyEvery = 6 * 3_600_000;

export async function startServer(config: Config): Promise<RunningServer> {
  const log = pino({ level: config.log }, pino.destination(2));
  const fault =
    (what: string) =>
    (error: unknown): void =>
      log.error({ error: error instanceof Error ? error.message : error }, what);
  const database = await openDatabase({ url: config.databaseUrl, connections: 12, statementTimeout });
  // Heavy work has connections of its own, so that it never keeps anyone from a list or a save.
  const heavy = await connect({ url: config.databaseUrl, connections: 5, statementTimeout: heavyTimeout });
  const designs = new Designs(database);
  const whoAsks = new WhoAsks(database, designs, config.sessions.idle);
  // This process lets go at once; the others as they hear of it.
  const changed = (): Promise<void> => {
    whoAsks.forget();
    return announce(database);
  };
  const live = new Live(
    database,
    async (token, app) => {
      const caller = await whoAsks.callerOf(token, app);
      return caller.kind === 'member' && caller.person.role !== null ? { person: caller.person, ...caller.app } : null;
    },
    fault('telling open screens failed'),
  );
  const people = new People(database, changed);
  const indexes = new MissingIndexes(config.databaseUrl, database, designs, fault('making missing indexes failed'));
  const apps = new AppsService(database, changed, designs, (app) => live.touched(app, []), indexes, config.largeTable);
  // What all kinds read and print their values with.
  await loadKinds(fieldKindNames);
  await makeMissingViews(database, designs);
  // Known once the server listens; no mail is written before.
  let address = config.address ?? '';
  const addressNow = (): string => address;
  const members = new Members(database, changed);
  const mails = new Mails(database, config.smtp === null);
  const slowDown = new SlowDown(database);
  const sessions = new Sessions(database, config.sessions, changed);
  const signingIn = new SigningIn(database, slowDown);
  const account = new Account(database, sessions, slowDown, changed, addressNow);
  const invitations = new Invitations(database, slowDown, changed, addressNow);
  const publicForms = new PublicForms(database, designs, slowDown, (app, tables) => live.touched(app, tables));
  const published = new PublishedReader(heavy, designs);
  const notices = new Notices(config.databaseUrl, {
    [changedChannel]: () => whoAsks.forget(),
    [liveChannel]: (payload) => live.hear(payload),
  });
  const imports = new ImportsService(database, {
    url: config.databaseUrl,
    files: config.files,
    onEnded: (app) => live.touched(app, null),
    onAhead: () => whoAsks.forget(),
  });
  const madeFiles = new MadeFiles(database, { url: config.databaseUrl, folder: config.files });
  const inDatabase = postgresStore(database);
  const store = config.s3 === null ? inDatabase : (await import('./files/s3-store.js')).s3Store(config.s3, inDatabase, fault('store of files failed'));
  const files = new FilesService(database, store, config.files);
  let isClosing = false;
  const koa = application({
    served: [
      ...peopleRoutes({
        people,
        sessions,
        signingIn,
        account,
        invitations,
        server: new ServerPeople(database, mails, config.everyoneMakesApps, changed),
        whoAsks,
        cookies: new Cookies(config.address?.startsWith('https:') === true, config.sessions.longest),
        onFault: fault('work after an answer failed'),
      }),
      ...memberRoutes(database, members, invitations, mails),
      ...appRoutes(apps, database, config),
      ...starterRoutes(apps, database),
      ...recordRoutes(database, heavy, members, live),
      ...ownMenuRoutes(database),
      ...liveRoutes(live),
      ...queryRoutes(heavy),
      ...reportRoutes(heavy),
      ...dashboardRoutes(heavy),
      ...workflowRoutes(new Workflow(database, members), new Runs(database)),
      ...mailRoutes(mails),
      ...publishedRoutes(published),
      ...publicFormRoutes(publicForms, files),
      ...commentRoutes(new Comments(database, slowDown, addressNow), live),
      ...importRoutes(imports),
      ...madeFileRoutes(madeFiles, heavy),
      ...fileRoutes(files),
    ],
    callerOf: (token, app) => whoAsks.callerOf(token, app),
    lookAs: (caller, as) => lookAs(members, caller, as),
    web: config.web,
    sitesOf: (app, kind, name) => (kind === 'form' ? publicForms.sites(app, name) : published.sites(app, kind, name)),
    address: config.address,
    trustedProxies: config.trustedProxies,
    isClosing: () => isClosing,
    log,
  });
  const handle = koa.callback();
  const http = createServer((request, response) => void handle(request, response));
  await listenAt(http, config);
  address = config.address ?? `http://${config.host}:${(http.address() as AddressInfo).port}`;
  // Loaded only where there is no relay.
  const openStandIn = async () => (await import('./mail/stand-in.js')).openStandIn(database);
  const standIn = config.smtp === null ? await openStandIn() : null;
  const jobs = new Jobs({
    url: config.databaseUrl,
    kinds: [
      sendMail(database, { smtp: config.smtp ?? standIn?.smtp ?? '', keeps: config.smtp === null, from: config.mailFrom }),
      tidyUp([
        (now) => forgetKept(database, now),
        () => forgetAllPrepared(database),
        (now) => files.forget(now),
        (now) => mails.forget(now),
        ...[sessions, signingIn, account, invitations, members, publicForms].map((each) => () => each.forget()),
      ]),
      ...imports.jobs,
      madeFiles.job,
    ],
    onFault: fault('a job failed'),
  });
  // What lies in a folder of this server is for it to tidy up.
  const tidyFolder = async (): Promise<void> => {
    await imports.forgetFiles(new Date());
    await madeFiles.forgetFiles(new Date());
    await files.forgetUploads(new Date());
  };
  let tidying = Promise.resolve();
  const tidy = (): void => {
    tidying = tidyFolder().catch(fault('tidying up the folder failed'));
  };
  tidy();
  indexes.makeAll();
  // What a server that was killed has left is still in use for a moment.
  const forgetting = forgetAllPrepared(database).catch(fault('taking away what was made ready failed'));
  const timer = setInterval(tidy, tidyEvery);
  return {
    address,
    database,
    people,
    apps,
    close: async () => {
      clearInterval(timer);
      isClosing = true;
      // Requests under way are answered. What comes meanwhile, perhaps on a connection that is kept, is told to come again:
      // closed at once, it would leave its sender in doubt whether it was done.
      live.end();
      if (await isConnected(http)) await delay(farewell);
      const closed = new Promise<void>((resolve) => http.close(() => resolve()));
      const patience = setTimeout(() => http.closeAllConnections(), closingPatience);
      await closed;
      clearTimeout(patience);
      await tidying;
      await forgetting;
      await indexes.close();
      await imports.close();
      await madeFiles.close();
      await jobs.close();
      await standIn?.close();
      live.close();
      await notices.close();
      await heavy.destroy();
      await database.destroy();
    },
  };
}

const isConnected = (http: Server): Promise<boolean> => new Promise((resolve) => http.getConnections((_, count) => resolve(count > 0)));

function listenAt(http: Server, config: Config): Promise<void> {
  return new Promise((resolve, reject) => {
    http.once('error', reject);
    http.listen(config.port, config.host, () => resolve());
  });
}
