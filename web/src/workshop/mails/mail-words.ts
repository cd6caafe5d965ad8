import type { Mail } from '@bibliona/core';

export const mailStates = { waiting: 'waits to be sent', sent: 'sent', failed: 'could not be sent' } as const satisfies Record<Mail['state'], string>;
