/** A mailbox that replaces a relay: an SMTP server on loopback that keeps what it takes, for the screen of mails. */
import type { AddressInfo } from 'node:net';
import { SMTPServer } from 'smtp-server';
import type { DataSource } from 'typeorm';
import { runOwn } from '../db/own.js';

const keep = `INSERT INTO bibliona.mailbox (message_id, sender, recipients, subject, body) VALUES ($1, $2, $3, $4, $5)`;
const largest = 5_000_000;

export interface StandIn {
  /** Its address, as a relay is given. */
  readonly smtp: string;
  readonly close: () => Promise<void>;
}

export async function openStandIn(database: DataSource): Promise<StandIn> {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    size: largest,
    onData: (stream, session, done) => {
      // Loaded with the first mail.
      import('mailparser')
        .then(({ simpleParser }) => simpleParser(stream))
        .then(async (mail) => {
          const from = session.envelope.mailFrom === false ? '' : session.envelope.mailFrom.address;
          const to = session.envelope.rcptTo.map((sMTPServerAddress) => sMTPServerAddress.address);
          await runOwn(database, 'keep mail', keep, [mail.messageId ?? '', from, to, mail.subject ?? '', mail.text ?? '']);
          done();
        })
        .catch((error: unknown) => done(error as Error));
    },
  });
  // The sender is told of a connection that breaks.
  server.on('error', () => undefined);
  const listening = await new Promise<AddressInfo>((resolve, reject) => {
    const net = server.listen(0, '127.0.0.1', () => resolve(net.address() as AddressInfo));
    net.once('error', reject);
  });
  return { smtp: `smtp://127.0.0.1:${listening.port}`, close: () => new Promise((resolve) => server.close(() => resolve())) };
}
