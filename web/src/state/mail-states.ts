import type { Mail } from '@bibliona/core';

/** What has become of a mail. */
export const mailStates = {
  waiting: 'waiting to be sent',
  sent: 'sent',
  kept: 'kept in the mailbox, not sent',
  failed: 'could not be sent',
} as const satisfies Record<Mail['state'], string>;
