/** Who somebody is to an app who has not signed in. */
import type { Person } from './access.js';

/** The number of the person that all visitors are. Those who have an account begin at 1. */
export const visitorId = 0;

/** Nobody by name, with one role. */
export const visitorWith = (role: string): Person => ({ id: visitorId, name: 'Public form', mail: '', role: 'member', roles: [role], ties: {} });
