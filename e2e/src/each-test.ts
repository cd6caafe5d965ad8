import { afterEach } from 'vitest';
import { shownNow } from './browser.js';

/** A test that failed tells what its pages showed by then. */
afterEach(async ({ task }) => {
  const error = task.result?.errors?.[0];
  if (error !== undefined) error.stack = `${error.stack ?? error.message}\n${await shownNow()}`;
});
