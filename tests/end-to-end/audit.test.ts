import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { launch, newDatabase, queryDatabase, startService, type TestService } from '../setup/service.js';

/** The audit: what it notes, that a change of it is found, and that the service itself cannot change it. */
let service: TestService & { readonly database: string };

beforeAll(async () => {
  service = await startService();
});
afterAll(() => service?.stop());

const verify = async (more = '') => (await service.call('GET', `/api/v1/audit/verify${more}`)).body;
const noted = async (): Promise<string[]> =>
  (await service.call('GET', '/api/v1/audit?limit=1000')).body.entries.map(
    ({ action, kind, name }: Record<string, string>) => `${action} ${kind ?? ''} ${name ?? ''}`.trim(),
  );

/** Changes the audit as only who owns the database can: without the triggers that keep it. */
const tamper = (sql: string) =>
  queryDatabase(
    service.database,
    `set session_replication_role = replica; ${sql}; set session_replication_role = origin`,
  );

describe('what was done', () => {
  it('is noted: keys, passcodes, exports, replays, warnings that were accepted', async () => {
    const rules =
      'policy: p\ncovers: {hosts: [a.example]}\ndefault: allow\nrules: [{rule: u, then: {unlock: gate}}, {rule: never, when: {method: GET}, then: block}]\n';
    await service.call('PUT', '/api/v1/workspace', { files: [{ name: 'p.yaml', text: rules }] });
    await service.call('PUT', '/api/v1/passcodes/gate', { passcode: 'between the two ferns' });
    await service.call('POST', '/api/v1/logs?name=day', '{"host":"a.example","path":"/","peer":"198.18.0.1"}\n');
    await service.call('POST', '/api/v1/replays', { log: 'day' });
    await service.call('POST', '/api/v1/revisions', { message: 'Open', acceptWarnings: true });
    await service.call('GET', '/api/v1/audit.csv');
    const all = await noted();
    for (const deed of ['access-key-made', 'passcode-set passcode gate', 'log-imported log day', 'exported audit'])
      expect(all).toContainEqual(expect.stringContaining(deed));
    expect(all).toContainEqual(expect.stringMatching(/^replay-ordered replay/));
    const { entries } = (await service.call('GET', '/api/v1/audit?action=published')).body;
    expect(entries[0].detail).toMatchObject({
      acceptedWarnings: expect.arrayContaining([expect.stringContaining('never')]),
    });
  });
});

describe('the chain', () => {
  it('holds, and reports its head', async () => {
    const { entries, head, brokenAt, isCut, hasHead } = await verify();
    expect({ brokenAt, isCut, hasHead }).toEqual({ brokenAt: null, isCut: false, hasHead: null });
    expect(entries).toBe((await noted()).length);
    expect(head).toMatch(/^[0-9a-f]{64}$/);
    expect((await verify(`?head=${head}`)).hasHead).toBe(true);
    expect((await verify(`?head=${'0'.repeat(64)}`)).hasHead).toBe(false);
    const ran = await service.client('audit', 'verify', '--head', head);
    expect(ran.code).toBe(0);
    expect((await service.client('audit', 'verify', '--head', '0'.repeat(64))).code).toBe(1);
  });

  const nth = (at: number) => `(select id from audit order by id offset ${at} limit 1)`;

  it.each([
    ['an entry in the middle', `delete from audit where id = ${nth(1)}`, 2],
    ['the text of one', `update audit set actor = 'somebody' where id = ${nth(1)}`, 1],
    ['the time of one', `update audit set at = at - interval '1 microsecond' where id = ${nth(1)}`, 1],
    ['where a text ends and the next begins', `update audit set kind = 'x', name = null where id = ${nth(1)}`, 1],
    ['the hash of one', `update audit set hash = sha256(hash) where id = ${nth(1)}`, 1],
  ])('is broken by a change of %s', async (_, sql, at) => {
    const [{ id }] = await queryDatabase(service.database, `select id from audit order by id offset ${at} limit 1`);
    await keeping(async () => {
      await tamper(sql);
      expect((await verify()).brokenAt).toBe(Number(id));
      const ran = await service.client('audit', 'verify');
      expect(ran.code).toBe(1);
      expect(ran.out).toContain(String(id));
    });
    expect((await verify()).brokenAt).toBeNull();
  });

  it('misses what is cut off at its end, and an older head shows when all is made anew', async () => {
    const { head } = await verify();
    await keeping(async () => {
      await tamper('delete from audit where id = (select max(id) from audit)');
      expect(await verify()).toMatchObject({ brokenAt: null, isCut: true });
    });
    // Who owns the database can chain everything again; the head that somebody kept is gone then.
    await keeping(async () => {
      await tamper(`update audit set name = 'another' where id = ${nth(1)};
        do $$ declare last bytea := ''; entry audit; begin
          for entry in select * from audit order by id loop
            last := sha256(last || audit_content(entry));
            update audit set hash = last where id = entry.id;
          end loop;
          update audit_head set hash = last;
        end $$`);
      expect(await verify()).toMatchObject({ brokenAt: null, isCut: false });
      expect((await verify(`?head=${head}`)).hasHead).toBe(false);
    });
    expect(await verify(`?head=${head}`)).toMatchObject({ brokenAt: null, isCut: false, hasHead: true });
  });

  /** Does something to the audit, and puts it back as it was. */
  async function keeping(work: () => Promise<void>): Promise<void> {
    await tamper('create table kept as table audit; create table kept_head as table audit_head');
    await work();
    await tamper(`delete from audit; delete from audit_head; insert into audit select * from kept;
      insert into audit_head select * from kept_head; drop table kept; drop table kept_head`);
  }
});

describe('the service’s own role', () => {
  it('adds to the audit and reads it, and can do nothing else with it', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'jade-fence-test-'));
    const owner = await newDatabase();
    const role = `service_${process.pid}`;
    await queryDatabase(owner, `create role ${role} login`);
    const own = owner.replace(/\/\/\w+@/, `//${role}@`);
    const started = await launch(['--port', '0', '--data-dir', folder], {
      ...process.env,
      ...{ DATABASE_URL: own, DATABASE_OWNER_URL: owner, NO_COLOR: '1' },
    });
    try {
      await started.call('PUT', '/api/v1/workspace', { files: [{ name: 'l.yaml', text: 'list: l\nof: domains\n' }] });
      expect((await queryDatabase(own, 'select count(*)::int as count from audit'))[0].count).toBeGreaterThan(0);
      for (const sql of [
        "update audit set actor = 'nobody'",
        'delete from audit',
        'truncate audit',
        'drop table audit',
        'alter table audit disable trigger all',
        'drop trigger audit_is_kept on audit',
        'drop function audit_is_kept() cascade',
        'create or replace function audit_chain() returns trigger language plpgsql as $$ begin return new; end $$',
        'update audit_head set entries = 0',
        'set session_replication_role = replica',
        "insert into audit_head (id, entries, hash) values (2, 0, '')",
      ])
        await expect(queryDatabase(own, sql), sql).rejects.toThrow(/permission denied|must be owner|must be able/);
      // What it says of itself is put right: number, time and hash are given by the chain.
      const shown = "insert into audit (id, at, action, detail, hash) values (1, '2020-01-01', 'published', '{}', '')";
      await queryDatabase(own, shown);
      expect((await started.call('GET', '/api/v1/audit/verify')).body).toMatchObject({ brokenAt: null, isCut: false });
    } finally {
      await started.stop();
      rmSync(folder, { recursive: true, force: true });
    }
  });
});
