import { contract } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { password, testServer, type TestServer } from './support.js';

let it: TestServer;
beforeAll(async () => (it = await testServer()));
afterAll(() => it.close());

describe('the first person', () => {
  test('is made once, with the key that the server printed', async () => {
    const caller = it.caller();
    expect(await caller.call(contract.whoAmI)).toEqual({ person: null, needsSetUp: true });
    const person = { name: 'Ada Roke', email: 'Ada@Quillmoor.example', password };
    expect((await caller.refused(contract.setUp, { body: { key: 'guessed', ...person } })).status).toBe(403);
    const key = await it.server.people.setUpKey();
    expect(await it.server.people.setUpKey()).toBe(key);
    expect((await caller.refused(contract.setUp, { body: { key, ...person, password: 'short' } })).body.issues[0]).toMatchObject({ path: 'password' });
    await caller.call(contract.setUp, { body: { key, ...person } });
    expect((await caller.call(contract.whoAmI)).person).toMatchObject({ name: 'Ada Roke', email: 'ada@quillmoor.example' });
    expect((await it.caller().refused(contract.setUp, { body: { key, ...person, email: 'other@quillmoor.example' } })).status).toBe(403);
  });
});

describe('signing in and out', () => {
  test('the cookie cannot be read by scripts or sent from other sites, and the table does not hold it', async () => {
    await it.person('Bede Lunn');
    const caller = it.caller();
    const answer = await caller.send('POST', '/api/sign-in', { email: 'bede.lunn@quillmoor.example', password });
    const cookie = answer.headers.getSetCookie().join();
    expect(cookie).toMatch(/httponly/iu);
    expect(cookie).toMatch(/samesite=lax/iu);
    const token = /bibliona_session=([^;]+)/u.exec(cookie)?.[1] ?? '';
    expect(token.length).toBeGreaterThan(40);
    expect(await it.sql('SELECT 1 FROM bibliona.session WHERE token_hash = $1', [token])).toEqual([]);
    expect((await it.sql<{ h: string }>('SELECT password_hash AS h FROM bibliona.person WHERE id <> 0')).every((row) => row.h.startsWith('$argon2id$'))).toBe(
      true,
    );
  });

  test('a session ends at sign-out, on the server too, and changes at sign-in', async () => {
    const caller = await it.person('Edda Strand');
    const before = caller.cookie;
    await caller.call(contract.signIn, { body: { email: 'edda.strand@quillmoor.example', password } });
    expect(caller.cookie).not.toBe(before);
    const stolen = it.caller();
    stolen.cookie = before;
    expect((await stolen.call(contract.whoAmI)).person).toBeNull();
    stolen.cookie = caller.cookie;
    await caller.call(contract.signOut);
    expect((await stolen.call(contract.whoAmI)).person).toBeNull();
  });

  test('a session ends when it is idle for too long, and at its greatest age', async () => {
    const caller = await it.person('Old Session');
    await it.sql(`UPDATE bibliona.session SET seen_at = now() - interval '6 days' WHERE person_id = $1`, [caller.id]);
    expect((await caller.call(contract.whoAmI)).person).not.toBeNull();
    // Being used keeps it alive, up to its greatest age.
    expect(await it.sql(`SELECT FROM bibliona.session WHERE person_id = $1 AND seen_at > now() - interval '1 minute'`, [caller.id])).toHaveLength(1);
    await it.sql(`UPDATE bibliona.session SET seen_at = now() - interval '8 days' WHERE person_id = $1`, [caller.id]);
    expect((await caller.call(contract.whoAmI)).person).toBeNull();
    await caller.call(contract.signIn, { body: { email: 'old.session@quillmoor.example', password } });
    await it.sql(`UPDATE bibliona.session SET expires_at = now() - interval '1 second' WHERE person_id = $1`, [caller.id]);
    expect((await caller.call(contract.whoAmI)).person).toBeNull();
  });

  test('a wrong name and a wrong password get the same answer, and too many of them a pause', async () => {
    await it.person('Piet Marlow');
    const email = 'piet.marlow@quillmoor.example';
    const wrongName = await it.caller().refused(contract.signIn, { body: { email: 'nobody@quillmoor.example', password: 'wrong password' } });
    const wrongWord = await it.caller().refused(contract.signIn, { body: { email, password: 'wrong password' } });
    expect(wrongWord.body).toEqual(wrongName.body);
    expect(wrongWord.status).toBe(401);
    for (let i = 0; i < 7; i += 1) await it.caller().refused(contract.signIn, { body: { email, password: 'wrong password' } });
    const paused = await it.caller().refused(contract.signIn, { body: { email, password } });
    expect(paused).toMatchObject({ status: 429, body: { code: 'too_many' } });
    // Others go on signing in from the same place.
    await it.person('Orla Fennick');
  });
});

describe('requests from elsewhere', () => {
  test('a change that comes from another site is refused', async () => {
    const caller = await it.person('Maud Tarn');
    for (const headers of [{ origin: 'https://elsewhere.example' }, { origin: 'null' }, { 'sec-fetch-site': 'cross-site' }]) {
      expect((await caller.send('POST', '/api/apps', { name: 'Stolen' }, headers)).status).toBe(403);
    }
    expect((await caller.call(contract.listApps)).apps).toEqual([]);
    expect((await caller.send('POST', '/api/apps', { name: 'Own' }, { origin: it.server.address })).status).toBe(200);
  });

  test('every page carries headers under which only our own scripts run', async () => {
    const { headers } = await it.caller().send('GET', '/');
    const policy = headers.get('content-security-policy') ?? '';
    expect(policy).toContain("default-src 'none'");
    expect(policy).toContain("script-src 'self'");
    expect(policy).toContain("frame-ancestors 'none'");
    expect(/script-src[^;]*unsafe/u.test(policy)).toBe(false);
    expect(/style-src [^;]*unsafe/u.test(policy)).toBe(false);
    expect(headers.get('x-content-type-options')).toBe('nosniff');
    expect(headers.get('x-powered-by')).toBeNull();
    const [first, second] = [policy, (await it.caller().send('GET', '/')).headers.get('content-security-policy')];
    expect(second).not.toBe(first);
  });

  test.each(['/assets/../../package.json', '/assets/%2e%2e/%2e%2e/package.json', '/assets/..%2f..%2fpackage.json', '/assets/nothing.js'])(
    'no file beside the build is served: %s',
    async (path) => {
      const answer = await it.caller().send('GET', path);
      expect(JSON.stringify(answer.body)).not.toContain('workspaces');
      expect(answer.status).toBeLessThan(500);
    },
  );
});
