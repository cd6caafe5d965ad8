/** Look as: a builder asks as another person or role would, and saves nothing meanwhile. */
import { Refusal } from '../http/refusal.js';
import type { Caller } from '../http/serve.js';
import type { Members } from './members.js';

/**
 * The caller as whom a builder looks. A person who is no builder looks as themselves.
 * @throws Refusal forbidden, bad_request, not_found
 */
export async function lookAs(members: Members, caller: Caller, as: string): Promise<Caller> {
  if (caller.kind !== 'member') return caller;
  if (caller.person.role !== 'builder') throw new Refusal('forbidden', 'Only builders of this app can look as someone else.');
  const [, kind, id] = /^(person|role):(\w{1,60})$/u.exec(as) ?? [];
  if (kind === 'person' && /^\d{1,15}$/u.test(id ?? '')) return { ...caller, person: await members.person(caller.app, Number(id)) };
  const role = caller.app.design.roles.find((each) => each.id === id);
  if (kind !== 'role' || role === undefined) throw new Refusal('bad_request', 'There is no such person or role to look as.');
  return { ...caller, person: { ...caller.person, role: 'member', roles: [role.id], ties: {} } };
}
