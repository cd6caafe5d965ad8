import type { Page } from '../design/page.js';
import type { Reference } from './part.js';

/** What a page of a menu or a button leads to. */
export function targetOf(page: Page): Reference {
  switch (page.kind) {
    case 'list':
      return { to: 'list', id: page.list };
    case 'form':
      return { to: 'form', id: page.form };
    case 'query':
      return { to: 'query', id: page.query };
    case 'report':
      return { to: 'report', id: page.report };
    case 'dashboard':
      return { to: 'dashboard', id: page.dashboard };
    default:
      return page satisfies never;
  }
}
